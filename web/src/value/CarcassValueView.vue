<script setup lang="ts">
// A side or a whole lamb, assembled from a plan for each of its pieces.
import { computed, reactive, watch } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import { keyOf } from '../api/keys'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
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
import CarcassDivisions from './CarcassDivisions.vue'
import CarcassPieces from './CarcassPieces.vue'
import YieldGrade from './YieldGrade.vue'
import { say } from '../words/say'

const { mass, money, unit } = useShop()
const { data: carcasses } = useCarcasses()
const form = reactive({
  id: 'lamb.whole',
  weight: '',
  price: '',
  plan: '',
  heads: '30',
  division: '',
  plans: {} as Record<string, string>,
  otherSide: {} as Record<string, string>,
  soldWhole: {} as Record<string, string>,
  whole: '',
})
function asPlanned() {
  form.plans = {}
  form.otherSide = {}
  form.soldWhole = {}
}
watch(
  () => form.id,
  () => {
    form.weight = ''
    form.plan = ''
    form.division = ''
    asPlanned()
    form.price = ''
    form.whole = ''
    form.heads = form.id.startsWith('lamb') ? '30' : '4'
  },
)
const body = computed<S['CarcassRequest']>(() => ({
  heads: Math.round(typedNumber(form.heads)) || -1,
  plans: form.plans,
  other_side: form.otherSide,
  sold_whole: Object.fromEntries(Object.entries(form.soldWhole).filter(([, price]) => price.trim())),
  whole_per: unit.value,
  ...(form.division && { division: form.division }),
  ...(form.whole.trim() && { whole_price: form.whole.trim() }),
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
  queryKey: computed(() => keyOf('carcass-value', form.id, body.value)),
  queryFn: () =>
    data(POST('/carcasses/{carcass_id}/value', { params: { path: { carcass_id: form.id } }, body: body.value })),
  placeholderData: keepPreviousData,
  retry: false,
})
const problem = computed(() => (error.value ? asProblem(error.value) : undefined))
const fault = (f: string) => problem.value?.at(f) ?? ''
const drawn = computed(() => carcasses.value?.find((c) => c.id === form.id))
/** What each piece brings; the two of a pair together. */
const brings = computed(() => {
  const sum: Record<string, number> = {}
  for (const p of v.value?.pieces ?? []) sum[p.id] = (sum[p.id] ?? 0) + Number(p.sales)
  return Object.fromEntries(Object.entries(sum).map(([id, x]) => [id, money(x)]))
})
const names = computed(() => ({ ...v.value?.names, 'product/rest': say('Small products') }))
const beyond = computed(() => v.value?.lines.filter((l) => l.beyond_g > 0) ?? [])
const lines: [keyof S['CarcassSums'], string][] = [
  ['sales', say('Sales')],
  ['packaging', say('Packaging')],
  ['labour', say('Labour')],
  ['discard', say('Discard')],
  ['ingredients', say('Ingredients')],
  ['purchase', say('Carcass')],
  ['value', say('Left after all costs')],
]
const planName = computed(() => v.value?.plans.find((p) => p.id === v.value?.plan_id)?.name ?? '')
/** What costs nothing here is not named. */
const rows = computed(() => lines.filter(([k]) => v.value?.totals.week[k] !== undefined))
function startFrom(plan: string) {
  form.plan = plan
  asPlanned()
}
/** Another division has other pieces: what was said of a piece that it has none of is forgotten. */
const divided = computed({
  get: () => v.value?.division ?? '',
  set: (id) => {
    form.division = id
    asPlanned()
  },
})
</script>

<template>
  <form class="ask no-print" novalidate aria-label="The carcass" @submit.prevent>
    <FormField id="cv-carcass" label="Carcass"
      ><PickOne id="cv-carcass" v-model="form.id" :options="carcasses" :called="(c) => shortName(c.name)"
    /></FormField>
    <FormField id="cv-weight" :label="say`Cold weight, ${unit}`" :fault="fault('weight')"
      ><InputText
        id="cv-weight"
        v-model.lazy="form.weight"
        inputmode="decimal"
        :placeholder="v ? mass(v.weight_g, 1) : ''"
        :invalid="!!fault('weight')"
        autocomplete="off"
    /></FormField>
    <FormField id="cv-price" :label="say`Price per ${unit}`" :fault="fault('price')"
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
    <FormField id="cv-whole" :label="say`Or sold whole at, per ${unit}`" :fault="fault('whole_price')"
      ><InputText
        id="cv-whole"
        v-model.lazy="form.whole"
        inputmode="decimal"
        placeholder="not asked"
        :invalid="!!fault('whole_price')"
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
      <div v-if="v.whole" data-test="whole">
        <dt>sold whole</dt>
        <dd class="figure">{{ money(v.whole.head) }}</dd>
      </div>
      <div data-test="even">
        <dt>leaves the same sold whole at, per {{ v.even_per }}</dt>
        <dd class="figure">{{ money(v.even_price) }}</dd>
      </div>
    </dl>
    <div class="broken">
      <figure v-if="drawn" class="animal">
        <CarcassMap :carcass="drawn" :division="v.division" :lines="brings" :size="2.4" />
        <figcaption class="small">What each piece brings, of one carcass. Areas are true to weight.</figcaption>
      </figure>
      <section v-if="v.divisions.length > 1">
        <h2>Break it another way</h2>
        <CarcassDivisions v-model="divided" :ways="v.divisions" :plan="planName" />
      </section>
    </div>
    <FlowPicture :flows="v.flows" :names="names" :show="(w, x) => `${mass(w, 1)}, ${money(x)}`" />
    <div class="lay">
      <section>
        <h2>Swap the plan of a piece</h2>
        <CarcassPieces
          v-model:plans="form.plans"
          v-model:other-side="form.otherSide"
          v-model:sold-whole="form.soldWhole"
          :pieces="v.pieces"
          :fault="fault"
        />
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
              <td>{{ s.name || say('the rest of the year') }}</td>
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
              <td class="n">{{ l.price ? `${money(l.price)}/${l.price_per}` : say('none') }}</td>
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
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 180px), 1fr));
  gap: 12px 20px;
  align-items: end;
}
.sentence {
  margin: 18px 0 12px;
}
.broken {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
  gap: 12px 36px;
  align-items: start;
  margin: 12px 0 20px;
}
.broken > * {
  min-width: 0;
}
.animal {
  margin: 0;
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
  .broken,
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
