<script setup lang="ts">
// A way of cutting of one's own: touch a muscle, say where it goes. Checked while it is typed; everything must go
// somewhere.
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import SeamMap, { type MapMark } from '../components/SeamMap.vue'
import StateNote from '../components/StateNote.vue'
import { useAtlasPiece } from '../api/useAtlasPiece'
import { useShop } from '../shell/shop'
import { percent, shortName } from '../words/shown'
import { bodyOf, draftOf, placed, type Draft } from './draft'
import PartChips from './PartChips.vue'
import ProductRows from './ProductRows.vue'
import { usePlanKeep } from './usePlanKeep'
import { usePlans } from './usePlans'
import PickOne from '../components/PickOne.vue'
import { useTitle } from '../shell/title'
import { say } from '../words/say'

const props = defineProps<{ piece: string; plan?: string }>()
const route = useRoute()
const { mass, money } = useShop()
const { data: list, error, isLoading, refetch } = usePlans(() => props.piece)
const { data: atlas } = useAtlasPiece(() => props.piece)
const based = computed(() => props.plan ?? String(route.query.from ?? ''))

const draft = shallowRef<Draft>()
const version = ref(0)
const picked = ref('')
watch(
  list,
  (l) => {
    if (!l || draft.value) return
    const from = l.plans.find((p) => p.plan.id === based.value) ?? (props.plan ? undefined : l.plans[0])
    if (!from) return
    const d = reactive(draftOf(from.plan))
    if (!props.plan) d.name = ''
    version.value = from.plan.version
    draft.value = d
    picked.value = l.parts[0]?.id ?? ''
  },
  { immediate: true },
)

const { checked, problem, check, save, busy, fault, nameFault, notKept } = usePlanKeep({
  piece: props.piece,
  plan: props.plan,
  based: () => based.value,
  version: () => version.value,
  body: () => draft.value && bodyOf(draft.value),
})

const sold = computed(() => list.value?.parts.filter((p) => p.kind !== 'loss') ?? [])
const part = computed(() => sold.value.find((p) => p.id === picked.value))
const missing = computed(() => sold.value.filter((p) => fault(`parts.${p.id}`)))
const marks = computed<Record<string, MapMark>>(() => {
  const out: Record<string, MapMark> = {}
  for (const m of atlas.value?.muscles ?? []) {
    const n = draft.value ? placed(draft.value, m.id) : 0
    out[m.id] = {
      name: m.market_name,
      code: m.code,
      line: n === 100 ? '100 %' : `${n} %`,
      state: picked.value === m.id ? 'next' : 'plain',
    }
  }
  return out
})
/** Puts what has no place yet of the picked part into a product. */
function rest(from: Record<string, string>) {
  const free = 100 - placed(draft.value!, picked.value)
  from[picked.value] = String(
    Math.max(0, Math.round((Number((from[picked.value] ?? '0').replace(',', '.')) + free) * 1000) / 1000),
  )
}
const otherFault = computed(
  () =>
    problem.value?.rest([
      'name',
      'why',
      'minutes',
      'tool',
      'cut',
      ...sold.value.map((p) => `parts.${p.id}`),
      ...(draft.value?.products.flatMap((_, i) =>
        ['name', 'form', 'cook', 'thickness_mm', 'portion_g', 'count_high', 'from'].map((f) => `products.${i}.${f}`),
      ) ?? []),
    ]) ?? '',
)

useTitle(() => draft.value?.name || list.value?.name)
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the plan" @retry="refetch()" />
    <div v-if="list && !draft" class="stack">
      <h1>There is no such plan</h1>
      <RouterLink :to="{ name: 'plans', params: { piece } }">To the ways to cut {{ list.name }}</RouterLink>
    </div>
    <form v-if="list && draft" novalidate aria-label="A way of cutting" @submit.prevent="save">
      <p class="label">{{ list.name }}</p>
      <h1 class="sentence">
        {{ plan ? say`Version ${version + 1} of ${draft.name || say('this way')}` : say('New cutting plan') }}
      </h1>
      <p class="state" :class="{ fault: missing.length }" data-test="state" aria-live="polite">
        <template v-if="missing.length">{{
          missing.map((p) => `${shortName(p.name)}: ${fault(`parts.${p.id}`)}`).join(' ')
        }}</template>
        <template v-else-if="!problem && checked"
          >Everything goes somewhere. A usual piece of {{ mass(list.typical_g, 1) }} would sell for
          {{ money(checked.totals.sales) }}; {{ money(checked.totals.value) }} are left after packaging and
          {{ checked.totals.minutes }} minutes, before it is bought.</template
        >
        <template v-else-if="!problem">Checking…</template>
      </p>
      <p v-if="otherFault" class="fault" role="alert">{{ otherFault }}</p>
      <div class="head">
        <FormField id="name" label="Name" :fault="nameFault"
          ><InputText id="name" v-model="draft.name" :invalid="!!nameFault" autocomplete="off"
        /></FormField>
        <FormField id="minutes" label="Bench minutes" :fault="fault('minutes')"
          ><InputText
            id="minutes"
            v-model="draft.minutes"
            inputmode="decimal"
            :invalid="!!fault('minutes')"
            autocomplete="off"
        /></FormField>
        <FormField id="cut" label="Weighed" :fault="fault('cut')"
          ><PickOne
            id="cut"
            v-model="draft.cut"
            :options="[
              { id: 'seams', name: say('muscle by muscle') },
              { id: 'straight', name: say('product by product') },
            ]"
        /></FormField>
        <FormField id="tool" label="With" :fault="fault('tool')"
          ><PickOne
            id="tool"
            v-model="draft.tool"
            :options="[
              { id: 'knife', name: say('the knife') },
              { id: 'saw', name: say('the band saw') },
            ]"
        /></FormField>
        <FormField id="why" class="why" label="Why, in a sentence" :fault="fault('why')"
          ><InputText id="why" v-model="draft.why" :invalid="!!fault('why')" autocomplete="off"
        /></FormField>
      </div>
      <div class="lay">
        <div class="left">
          <SeamMap
            v-if="atlas"
            :map="atlas.seam_map"
            :marks="marks"
            pickable
            :picked="picked"
            title="Select a muscle to say where it goes"
            :size="3.6"
            @pick="(id) => (picked = id)"
          />
          <PartChips
            :parts="sold.filter((x) => x.kind !== 'muscle')"
            :on="(id) => picked === id"
            :bad="(id) => !!fault(`parts.${id}`)"
            :says="(p) => `${placed(draft!, p.id)} %${p.kind === 'waste' ? say(' sold') : ''}`"
            @pick="(id) => (picked = id)"
          />
        </div>
        <div v-if="part" class="goes">
          <h2>{{ part.name }}</h2>
          <p class="small">
            {{ percent(part.share_pct) }} of the piece.
            {{
              part.kind === 'waste' ? say('What is not sold with a product is thrown away.') : say('Where does it go?')
            }}
          </p>
          <p v-if="fault(`parts.${part.id}`)" class="fault" role="alert">{{ fault(`parts.${part.id}`) }}</p>
          <table v-wide>
            <thead>
              <tr>
                <th>Product</th>
                <th class="n">% of it</th>
                <th><span class="vh">Change</span></th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="r in draft.products" :key="r.row">
                <td>{{ r.name || say('new product') }}</td>
                <td class="n">
                  <input
                    v-model="r.from[part.id]"
                    class="share"
                    inputmode="decimal"
                    :aria-label="say`Percent of ${part.name} into ${r.name || say('the new product')}`"
                  />
                </td>
                <td class="n">
                  <PvButton
                    text
                    label="The rest"
                    :aria-label="say`The rest of ${part.name} into ${r.name}`"
                    @click="rest(r.from)"
                  />
                </td>
              </tr>
              <tr v-if="part.kind !== 'waste'">
                <td>Waste</td>
                <td class="n">
                  <input
                    v-model="draft.waste[part.id]"
                    class="share"
                    inputmode="decimal"
                    :aria-label="say`Percent of ${part.name} thrown away`"
                  />
                </td>
                <td class="n">
                  <PvButton
                    text
                    label="The rest"
                    :aria-label="say`The rest of ${part.name} thrown away`"
                    @click="rest(draft.waste)"
                  />
                </td>
              </tr>
              <tr class="total">
                <td>Placed</td>
                <td class="n">{{ placed(draft, part.id) }}</td>
                <td />
              </tr>
            </tbody>
          </table>
        </div>
      </div>
      <p v-for="a in checked?.grade_conflicts ?? []" :key="a.product + a.part" class="fault" data-test="grade-conflict">
        {{ a.sentence }}
      </p>
      <ProductRows
        v-model="draft.products"
        :list="list"
        :made="checked?.products"
        :fault="fault"
        @priced="(check(), refetch())"
      />
      <div class="row submit">
        <PvButton
          type="submit"
          :label="plan ? say`Save as version ${version + 1}` : say('Save plan')"
          :loading="busy"
        /><span v-if="notKept" class="fault" role="alert">{{ notKept }}</span
        ><span v-else class="small">What was cut by an older version keeps that one.</span>
      </div>
    </form>
  </section>
</template>

<style scoped>
.state {
  margin: 6px 0 14px;
  min-height: 42px;
  max-width: 90ch;
}
.head {
  display: grid;
  grid-template-columns: minmax(0, 2fr) 130px 200px 150px;
  gap: 14px;
  align-items: start;
}
.why {
  grid-column: 1 / -1;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 32px;
  margin: 18px 0;
  align-items: start;
}
.left {
  display: flex;
  flex-direction: column;
  gap: 10px;
  position: sticky;
  top: 72px;
}
.share {
  width: 84px;
  font: inherit;
  font-size: 16px;
  text-align: right;
  min-height: 40px;
  padding: 3px 8px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
}
.goes td {
  padding: 3px 6px;
}
.goes td:first-child {
  padding-left: 0;
}
.submit {
  position: sticky;
  bottom: 0;
  background: var(--ground);
  padding: 8px 0;
}
@media (max-width: 900px) {
  .lay,
  .head {
    grid-template-columns: minmax(0, 1fr);
  }
  .left {
    position: static;
  }
}
</style>
