<script setup lang="ts">
// Does it pay? Any plans, pieces and groups of pieces of one kind, beside each other.
import { computed, reactive, watch } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import PvButton from 'primevue/button'
import StateNote from '../components/StateNote.vue'
import { typedNumber } from '../components/typedNumber'
import { data, GET, POST, type S } from '../api/client'
import { asProblem } from '../api/problem'
import { percent, useShop } from '../shell/shop'
import CostTable from './CostTable.vue'
import PairView from './PairView.vue'
import ReportLinks from './ReportLinks.vue'
import SidePicker from './SidePicker.vue'
import PickOne from '../components/PickOne.vue'
import { fromAddress, toAddress, type Pick } from './picks'

const route = useRoute()
const router = useRouter()
const { mass, money, unit, unitWord } = useShop()
const { data: pieces } = useQuery({
  queryKey: ['atlas-pieces'],
  queryFn: () => data(GET('/atlas/pieces')),
  staleTime: 3_600_000,
})
const { data: markets } = useQuery({ queryKey: ['markets'], queryFn: () => data(GET('/markets')) })
const { data: prices } = useQuery({ queryKey: ['prices'], queryFn: () => data(GET('/prices')) })
const start = 'beef.top_sirloin'
const form = reactive({
  atlas: start,
  alternatives: [] as Pick[],
  today: false,
  market: '',
  block: '',
  margin: '25',
  method: 'nrv' as NonNullable<S['DeskRequest']['method']>,
  credit: false,
  chain: [] as { key: string; sells: string }[],
})

function read() {
  const given = [route.query.side ?? []]
    .flat()
    .map((s) => fromAddress(String(s)))
    .filter((p): p is Pick => !!p)
  form.alternatives = given
  form.atlas = given.find((p) => p.atlas_id)?.atlas_id ?? form.atlas
  if (given.length < 2)
    form.alternatives = [
      ...given,
      ...[
        { kind: 'plan', atlas_id: form.atlas, plan_id: 'traditional' },
        { kind: 'plan', atlas_id: form.atlas, plan_id: 'seamed' },
      ].slice(given.length),
    ] as Pick[]
}
read()
watch(
  () => route.query.side,
  (s, was) => {
    if (
      route.name === 'desk' &&
      JSON.stringify(s) !== JSON.stringify(was) &&
      JSON.stringify([s ?? []].flat()) !== JSON.stringify(form.alternatives.map(toAddress))
    )
      read()
  },
)
watch(
  () => form.alternatives.map(toAddress),
  (side) => {
    void router.replace({ query: { side } })
  },
  { deep: true },
)
const kind = (atlas: string) => {
  form.atlas = atlas
  form.alternatives = [
    { kind: 'plan', atlas_id: atlas, plan_id: 'traditional' },
    { kind: 'plan', atlas_id: atlas, plan_id: 'seamed' },
  ]
}

const whole = computed(
  () => form.alternatives.length > 1 && form.alternatives.every((p) => p.kind !== 'piece' || p.breakdown_id),
)
const clean = (p: Pick): Pick =>
  Object.fromEntries(Object.entries(p).filter(([, v]) => v !== '' && v !== undefined)) as Pick
const body = computed<S['DeskRequest']>(() => ({
  alternatives: form.alternatives.map(clean),
  today: form.today,
  method: form.method,
  credit: form.credit,
  margin_pct: form.margin.trim() ? typedNumber(form.margin) : 0,
  ...(form.market && { market: form.market }),
  ...(form.chain.some((c) => c.key) && {
    chain: form.chain
      .filter((c) => c.key)
      .map((c, i, all) => ({ key: c.key, sells_pct: i === all.length - 1 ? 100 : typedNumber(c.sells) })),
  }),
  ...(form.block.trim() && { block_price: form.block.trim(), block_price_per: unit.value }),
}))
const {
  data: d,
  error,
  isFetching,
  refetch,
} = useQuery({
  queryKey: computed(() => ['desk', body.value]),
  enabled: whole,
  queryFn: () => data(POST('/comparisons', { body: body.value })),
  placeholderData: keepPreviousData,
  retry: false,
})
const problem = computed(() => (error.value ? asProblem(error.value) : undefined))
const fault = (field: string) =>
  problem.value?.errors.find((e) => e.field === field || e.field.startsWith(`${field}.`))?.message ?? ''
const rest = computed(
  () => problem.value && !problem.value.errors.some((e) => /^(alternatives|block_price|margin|chain)/.test(e.field)),
)
const method = computed(() => d.value?.methods.find((m) => m.id === form.method))
const add = () => form.alternatives.push({ kind: 'group', atlas_id: form.atlas })
/** The lines of a side for a unit of block, rounded together so that they add up. */
const lines = (s: S['Alternative']) => s.totals.lines.find((l) => l.per === unit.value)!
</script>

<template>
  <h1 class="vh">Does it pay?</h1>
  <form class="ask no-print" novalidate aria-label="What is compared" @submit.prevent>
    <span class="which"
      >Ways of cutting
      <PickOne :model-value="form.atlas" label="Kind of piece" :options="pieces" @update:model-value="kind"
    /></span>
    <SidePicker
      v-for="(p, i) in form.alternatives"
      :key="i"
      :pick="p"
      :atlas="form.atlas"
      :place="i"
      :fault="fault(`alternatives[${i}]`)"
      @change="form.alternatives[i] = $event"
      @drop="form.alternatives.splice(i, 1)"
    />
    <div class="row more">
      <PvButton v-if="form.alternatives.length < 6" text label="Add a way" @click="add" />
      <label
        >What if the block costs
        <input
          v-model.lazy="form.block"
          class="short"
          inputmode="decimal"
          :aria-invalid="!!fault('block_price')"
          aria-label="Price of the block"
        />
        a {{ unit }}</label
      >
      <label
        >leave <input v-model.lazy="form.margin" class="short" inputmode="decimal" aria-label="Margin, per cent" /> %
        margin</label
      >
      <span v-if="markets?.length"
        >at the prices of
        <PickOne
          v-model="form.market"
          label="Market"
          :options="markets.filter((x) => !x.main && x.active)"
          :none="markets.find((m) => m.main)?.name"
      /></span>
      <PvButton
        severity="secondary"
        :label="form.today ? 'Prices of their day' : 'Use today’s prices'"
        data-test="reprice"
        @click="form.today = !form.today"
      />
    </div>
    <details class="chain">
      <summary>
        What does not sell becomes
        {{ form.chain.some((c) => c.key) ? 'what is chosen here' : 'cubes, of which half sells, then trim' }}
      </summary>
      <div v-for="(c, i) in form.chain" :key="i" class="row">
        <PickOne
          v-model="c.key"
          :label="`Step ${i + 1} of the chain`"
          :options="prices?.filter((x) => x.price)"
          by="key"
          none="choose a product"
        /><label v-if="i < form.chain.length - 1"
          >of which
          <input
            v-model.lazy="c.sells"
            class="short"
            inputmode="decimal"
            :aria-label="`Sells at step ${i + 1}, per cent`"
          />
          % sells, the rest becomes</label
        ><span v-else>where all of it sells</span
        ><button type="button" class="drop" @click="form.chain.splice(i, 1)">Remove</button>
      </div>
      <PvButton
        v-if="form.chain.length < 5"
        text
        label="Add a step"
        @click="form.chain.push({ key: '', sells: '50' })"
      />
    </details>
    <p v-if="fault('block_price') || fault('margin_pct')" class="fault" role="alert">
      {{ fault('block_price') || fault('margin_pct') }}
    </p>
    <p v-if="problem?.errors.some((e) => e.field.startsWith('chain'))" class="fault" role="alert">
      The chain {{ problem.errors.find((e) => e.field.startsWith('chain'))?.message }}.
    </p>
  </form>
  <p v-if="!whole">Choose at least two ways; a piece must be named.</p>
  <StateNote
    :error="rest ? error : undefined"
    :loading="isFetching && !d && whole"
    what="the comparison"
    @retry="refetch()"
  />
  <template v-if="d && !problem">
    <PairView v-for="p in d.pairs" :key="p.b" :desk="d" :pair="p" :margin="body.margin_pct ?? 0" />
    <div v-wide class="scroll">
      <table v-wide class="alternatives" data-test="alternatives">
        <caption>
          The ways, a
          {{
            unitWord
          }}
          of block
        </caption>
        <thead>
          <tr>
            <th>Option</th>
            <th>Way</th>
            <th class="n">Pieces</th>
            <th class="n">Weight</th>
            <th class="n">Sold as meat</th>
            <th class="n">Sales</th>
            <th class="n">Packaging</th>
            <th class="n">Labour</th>
            <th class="n">Discard</th>
            <th class="n">Block</th>
            <th class="n">Value</th>
            <th class="n">a bench hour</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(s, i) in d.alternatives" :key="i">
            <td>
              <strong>{{ String.fromCharCode(65 + i) }}</strong>
            </td>
            <td>
              {{ s.name }} <span class="small">{{ s.planned ? 'estimated' : 'measured' }}</span>
            </td>
            <td class="n">{{ s.pieces }}</td>
            <td class="n">{{ mass(s.weight_g, 2) }}</td>
            <td class="n">{{ percent(s.saleable_pct) }}</td>
            <td class="n">{{ money(lines(s).sales) }}</td>
            <td class="n">{{ money(lines(s).packaging) }}</td>
            <td class="n">{{ money(lines(s).labour) }}</td>
            <td class="n">{{ money(lines(s).discard) }}</td>
            <td class="n">{{ money(lines(s).purchase) }}</td>
            <td class="n">
              <strong>{{ money(lines(s).value) }}</strong>
            </td>
            <td class="n">{{ s.totals.per_hour ? money(s.totals.per_hour) : '–' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="row method no-print">
      <span>Costs shared by <PickOne v-model="form.method" label="Joint-cost method" :options="d.methods" /></span
      ><label><input v-model="form.credit" type="checkbox" /> by-products credited first</label>
    </div>
    <CostTable v-for="(s, i) in d.alternatives" :key="i" :side="s" :method="method" :margin="body.margin_pct ?? 0" />
    <p v-for="b in d.basis" :key="b" class="small basis">{{ b }}</p>
    <ReportLinks :ask="{ kind: 'comparison', comparison: body }" />
  </template>
</template>

<style scoped>
.ask {
  display: flex;
  flex-direction: column;
  gap: 8px;
}
.which {
  font-weight: 650;
}
caption {
  text-align: left;
}
.more {
  gap: 8px 22px;
  flex-wrap: wrap;
}
.more label {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 44px;
}
.short {
  font: inherit;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  max-width: 320px;
}
.short {
  width: 76px;
  text-align: right;
  padding: 0 8px;
}
summary {
  cursor: pointer;
  min-height: 36px;
  padding-top: 6px;
}
.chain .row {
  flex-wrap: wrap;
  gap: 8px;
  margin-bottom: 6px;
}
.drop {
  min-height: 44px;
  border: 0;
  background: none;
  color: var(--ink);
  text-decoration: underline;
  font: inherit;
  cursor: pointer;
}
.scroll {
  overflow-x: auto;
}
.alternatives {
  margin-top: 12px;
}
.alternatives td,
.alternatives th {
  padding: 5px 7px;
  white-space: nowrap;
}
.alternatives td:nth-child(2) {
  white-space: normal;
  min-width: 180px;
}
.method {
  margin-top: 22px;
  gap: 24px;
}
.method label {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 44px;
}
.basis {
  margin: 8px 0 0;
  max-width: 100ch;
}
</style>
