<script setup lang="ts">
// A side or a whole lamb, assembled from a plan for each of its pieces.
import { computed, reactive, watch } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { typedNumber } from '../words/typed'
import { data, POST, type S } from '../api/client'
import { asProblem } from '../api/problem'
import CarcassMap from '../atlas/CarcassMap.vue'
import { useCarcasses } from '../atlas/useCarcasses'
import { useShop } from '../shell/shop'
import { shortName } from '../words/shown'
import FlowPicture from './FlowPicture.vue'
import ReportLinks from './ReportLinks.vue'
import PickOne from '../components/PickOne.vue'
import YieldGrade from './YieldGrade.vue'

const { mass, money, unit } = useShop()
const { data: carcasses } = useCarcasses()
const form = reactive({
  id: 'lamb.whole',
  weight: '',
  price: '',
  plan: '',
  heads: '30',
  plans: {} as Record<string, string>,
})
watch(
  () => form.id,
  () => {
    form.weight = ''
    form.plan = ''
    form.plans = {}
    form.price = ''
    form.heads = form.id.startsWith('lamb') ? '30' : '4'
  },
)
const body = computed<S['CarcassRequest']>(() => ({
  heads: Math.round(typedNumber(form.heads)) || -1,
  plans: form.plans,
  ...(form.plan && { plan_id: form.plan }),
  ...(form.weight.trim() && { weight: form.weight.trim(), weight_unit: unit.value }),
  ...(form.price.trim() && { price: form.price.trim(), price_per: unit.value }),
}))
const {
  data: v,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => ['carcass-value', form.id, body.value]),
  queryFn: () =>
    data(POST('/carcasses/{carcass_id}/value', { params: { path: { carcass_id: form.id } }, body: body.value })),
  placeholderData: keepPreviousData,
  retry: false,
})
const problem = computed(() => (error.value ? asProblem(error.value) : undefined))
const fault = (f: string) => problem.value?.at(f) ?? ''
const swap = (piece: string, plan: string, planned: string) => {
  const plans = { ...form.plans }
  if (plan === planned) delete plans[piece]
  else plans[piece] = plan
  form.plans = plans
}
const drawn = computed(() => carcasses.value?.find((c) => c.id === form.id))
const brings = computed(() => Object.fromEntries((v.value?.pieces ?? []).map((p) => [p.id, money(p.sales)])))
const names = computed(() => ({ ...v.value?.names, 'product/rest': 'Small products' }))
const beyond = computed(() => v.value?.lines.filter((l) => l.beyond_g > 0) ?? [])
const lines: [keyof S['CarcassSums'], string][] = [
  ['sales', 'Sales'],
  ['packaging', 'Packaging'],
  ['labour', 'Labour'],
  ['discard', 'Discard'],
  ['ingredients', 'Ingredients'],
  ['purchase', 'Carcass'],
  ['value', 'Left after all costs'],
]
/** What costs nothing here is not named. */
const rows = computed(() => lines.filter(([k]) => v.value?.totals.week[k] !== undefined))
function startFrom(plan: string) {
  form.plan = plan
  form.plans = {}
}
</script>

<template>
  <form class="ask no-print" novalidate aria-label="The carcass" @submit.prevent>
    <UnitToggle
      v-model="form.id"
      :options="carcasses?.map((c) => c.id) ?? [form.id]"
      :names="Object.fromEntries((carcasses ?? []).map((c) => [c.id, shortName(c.name)]))"
      label="Which carcass"
    />
    <FormField id="cv-weight" :label="`Cold weight, ${unit}`" :fault="fault('weight')"
      ><InputText
        id="cv-weight"
        v-model.lazy="form.weight"
        inputmode="decimal"
        :placeholder="v ? mass(v.weight_g, 1) : ''"
        :invalid="!!fault('weight')"
        autocomplete="off"
    /></FormField>
    <FormField id="cv-price" :label="`Price per ${unit}`" :fault="fault('price')"
      ><InputText
        id="cv-price"
        v-model.lazy="form.price"
        inputmode="decimal"
        placeholder="as last paid"
        :invalid="!!fault('price')"
        autocomplete="off"
    /></FormField>
    <FormField id="cv-heads" label="Carcasses a week" :fault="fault('heads')"
      ><InputText
        id="cv-heads"
        v-model.lazy="form.heads"
        inputmode="numeric"
        :invalid="!!fault('heads')"
        autocomplete="off"
    /></FormField>
    <FormField v-if="v" id="cv-plan" label="Start from" :fault="fault('plan_id')"
      ><PickOne id="cv-plan" :model-value="v.plan_id" :options="v.plans" @update:model-value="startFrom"
    /></FormField>
  </form>
  <StateNote
    :error="problem && !problem.errors.length ? error : undefined"
    :loading="isLoading"
    what="the carcass"
    @retry="refetch()"
  />
  <template v-if="v">
    <h1 class="sentence" data-test="carcass-sentence">{{ v.sentence }}</h1>
    <dl class="figures">
      <div>
        <dt>per carcass</dt>
        <dd class="figure" data-test="head">{{ money(v.totals.head.value) }}</dd>
      </div>
      <div>
        <dt>a week of {{ v.heads }}</dt>
        <dd class="figure">{{ money(v.totals.week.value) }}</dd>
      </div>
      <div>
        <dt>a year, estimated</dt>
        <dd class="figure">{{ money(v.year) }}</dd>
      </div>
      <div>
        <dt>minutes per carcass</dt>
        <dd class="figure">{{ v.minutes.toFixed(0) }}</dd>
      </div>
    </dl>
    <figure v-if="drawn" class="animal">
      <CarcassMap :carcass="drawn" :lines="brings" :size="2.4" />
      <figcaption class="small">What each piece brings, of one carcass. Areas are true to weight.</figcaption>
    </figure>
    <FlowPicture :flows="v.flows" :names="names" :show="(w, x) => `${mass(w, 1)}, ${money(x)}`" />
    <div class="lay">
      <section>
        <h2>Swap the plan of a piece</h2>
        <table v-wide data-test="pieces">
          <thead>
            <tr>
              <th>Piece</th>
              <th class="n">Weight</th>
              <th>Cut by</th>
              <th class="n">Per carcass</th>
              <th class="n">The swap alone</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="p in v.pieces" :key="p.id">
              <td>
                {{ p.name }} <span v-if="p.count > 1" class="small">× {{ p.count }}</span>
              </td>
              <td class="n">{{ mass(p.weight_g, 2) }}</td>
              <td>
                <PickOne
                  :model-value="p.plan_id"
                  :label="`Plan of ${p.name}`"
                  :data-piece="p.id"
                  :options="p.plans"
                  @update:model-value="swap(p.id, $event, p.planned_id)"
                />
              </td>
              <td class="n">{{ money(p.sales) }}</td>
              <td class="n">
                <template v-if="p.gain"
                  >{{ money(p.gain, true) }}
                  <span class="small"
                    >{{ p.extra_minutes > 0 ? '+' : '' }}{{ p.extra_minutes.toFixed(0) }} min</span
                  ></template
                >
              </td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>What is left</h2>
        <table v-wide>
          <thead>
            <tr>
              <th>Line</th>
              <th class="n">Per carcass</th>
              <th class="n">Per week</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="[k, name] in rows" :key="k" :class="{ total: k === 'value' }">
              <td>{{ name }}</td>
              <td class="n">{{ money(v.totals.head[k] ?? 0) }}</td>
              <td class="n">{{ money(v.totals.week[k] ?? 0) }}</td>
            </tr>
          </tbody>
        </table>
        <table v-if="v.seasons.length > 1" v-wide>
          <caption>
            By season
          </caption>
          <thead>
            <tr>
              <th>Season</th>
              <th class="n">Weeks</th>
              <th class="n">Per week</th>
              <th class="n">Lost for want of demand</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in v.seasons" :key="s.name">
              <td>{{ s.name || 'the rest of the year' }}</td>
              <td class="n">{{ s.weeks.toFixed(1) }}</td>
              <td class="n">{{ money(s.value) }}</td>
              <td class="n">{{ Number(s.lost) ? money(s.lost) : '' }}</td>
            </tr>
          </tbody>
        </table>
      </section>
    </div>
    <details :open="beyond.length > 0">
      <summary>
        <strong>Products of a week</strong
        ><template v-if="beyond.length">: of {{ beyond.length }} more is made than sells</template>
      </summary>
      <div v-wide class="scroll">
        <table v-wide data-test="lines">
          <thead>
            <tr>
              <th>Product</th>
              <th class="n">Per week</th>
              <th class="n">Beyond demand</th>
              <th class="n">Price</th>
              <th class="n">Brings</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in v.lines" :key="l.key">
              <td>{{ l.name }}<span v-if="l.kind === 'by_product'" class="small"> by-product</span></td>
              <td class="n">{{ mass(l.weight_g, 1) }}</td>
              <td class="n">{{ l.beyond_g ? mass(l.beyond_g, 1) : '' }}</td>
              <td class="n">{{ l.price ? `${money(l.price)}/${l.price_per}` : 'none' }}</td>
              <td class="n">{{ money(l.sales) }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </details>
    <p class="small">{{ v.basis }}</p>
    <ReportLinks :ask="{ kind: 'carcass', carcass_id: form.id, carcass: body }" />
  </template>
  <YieldGrade :species="form.id.startsWith('lamb') ? 'lamb' : 'beef'" />
</template>

<style scoped>
.ask {
  display: grid;
  grid-template-columns: auto repeat(3, 140px) minmax(180px, 320px);
  gap: 12px 20px;
  align-items: end;
}
.sentence {
  margin: 18px 0 12px;
}
.animal {
  margin: 12px 0 20px;
  max-width: 600px;
}
.figures {
  display: flex;
  gap: 12px 44px;
  flex-wrap: wrap;
  margin: 0 0 8px;
}
.figures dt {
  font-size: 13px;
  color: var(--ink-2);
  font-stretch: 86%;
}
.figures dd {
  margin: 2px 0 0;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1.7fr) minmax(0, 1fr);
  gap: 36px;
  align-items: start;
  margin-bottom: 14px;
}
.lay > section {
  min-width: 0;
}
caption {
  text-align: left;
}
td,
th {
  padding: 4px 8px;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
summary {
  cursor: pointer;
  min-height: 44px;
  padding-top: 12px;
}
.scroll {
  overflow-x: auto;
}
@media (max-width: 1000px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
  .ask {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
