<script setup lang="ts">
// What finished pieces gave: over time with control limits, cutter by cutter, supplier by supplier; down to the pieces.
import { computed, ref, watch } from 'vue'
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import ChartFrame from '../charts/ChartFrame.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, type S } from '../api/client'
import { minus, percent, shortName, useShop } from '../shell/shop'
import { moment } from '../shell/moment'
import { isDay, typedDay } from '../words/typed'
import { usePlans } from '../plans/usePlans'
import DayPick from '../components/DayPick.vue'
import { useAddressForm } from '../components/useAddressForm'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import PickOne from '../components/PickOne.vue'
import { entriesOf } from '../components/entries'
import { historyChart, pointWords } from './historyChart'
import { useAtlasPieces } from '../atlas/useAtlasPieces'
import { toAddress } from './picks'

const { shop, mass, money, perUnit, unitWord } = useShop()
const { data: pieces } = useAtlasPieces()
const form = useAddressForm({
  by: 'week',
  measure: 'before_purchase',
  atlas_id: 'beef.top_sirloin',
  plan_id: '',
  supplier: '',
  cutter: '',
  from: '',
  to: '',
})
const { data: plans } = usePlans(() => form.atlas_id || undefined)
function pickPiece(id: string) {
  form.atlas_id = id
  form.plan_id = ''
}
const day = (t: string) => {
  const d = typedDay(t)
  return t.trim() ? (isDay(d) ? d : t.trim()) : ''
}
const query = computed(
  () =>
    Object.fromEntries(
      Object.entries({ ...form, from: day(form.from), to: day(form.to) }).filter(([, v]) => v),
    ) as Record<string, string>,
)
watch(query, () => (bucket.value = ''))
const {
  data: h,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => ['history', query.value]),
  queryFn: () => data(GET('/history', { params: { query: query.value } })),
  retry: false,
})
const { data: cutters } = useQuery({
  queryKey: ['history', 'cutters'],
  queryFn: () => data(GET('/history', { params: { query: { by: 'cutter' } } })),
})
const bucket = ref('')
const open = ref(false)
const {
  data: pages,
  hasNextPage,
  fetchNextPage,
  isFetchingNextPage,
} = useInfiniteQuery({
  queryKey: computed(() => ['history-pieces', query.value, bucket.value]),
  enabled: () => open.value || !!bucket.value,
  initialPageParam: '',
  queryFn: ({ pageParam }) =>
    data(
      GET('/history/pieces', {
        params: {
          query: {
            ...query.value,
            ...(bucket.value && { bucket: bucket.value }),
            ...(pageParam && { after: pageParam }),
          },
        },
      }),
    ),
  getNextPageParam: (last) => last.next,
})
const list = computed(() => pages.value?.pages.flatMap((p) => p.pieces) ?? [])
const columns = computed<ListColumn<S['HistoryPiece']>[]>(() => [
  { id: 'lot', head: 'Piece', by: (p) => p.lot_number, whole: true },
  { id: 'plan', head: 'Plan', by: (p) => p.plan },
  { id: 'supplier', head: 'Supplier', by: (p) => p.supplier },
  { id: 'cutter', head: 'Cutter', by: (p) => p.cutter },
  { id: 'finished', head: 'Finished', by: (p) => p.closed_at },
  { id: 'weight', head: 'Weight', by: (p) => p.input_g, number: true },
  { id: 'meat', head: 'Meat', by: (p) => p.saleable_pct, number: true },
  { id: 'loss', head: 'Loss', by: (p) => p.loss_pct, number: true },
  { id: 'minutes', head: 'Minutes', by: (p) => p.minutes, number: true },
  { id: 'worth', head: `Worth per ${unitWord.value}`, by: (p) => Number(p.before_purchase_per_kg), number: true },
  { id: 'value', head: 'Value', by: (p) => Number(p.per_kg), number: true },
])
const bys = {
  week: 'week',
  month: 'month',
  plan: 'plan',
  cutter: 'cutter',
  supplier: 'supplier',
  piece: 'kind of piece',
}
const measures = {
  before_purchase: 'sales value per kg, before meat cost',
  value: 'value per kg, after all costs',
  yield: 'saleable meat, %',
  minutes: 'bench minutes per kg',
  loss: 'loss, %',
}
const isMoney = computed(() => form.measure === 'before_purchase' || form.measure === 'value')
const show = (v: number, sign = false) =>
  isMoney.value
    ? money(perUnit(v), sign)
    : form.measure === 'minutes'
      ? perUnit(v).toFixed(2)
      : `${sign && v > 0 ? '+' : ''}${percent(v)}`
const time = computed(() => form.by === 'week' || form.by === 'month')
const name = (b: S['HistoryBucket']) => b.name || b.key || 'no cutter'
const words = computed(() => ({
  name: (b: S['HistoryBucket']) => shortName(name(b)),
  show,
  time: time.value,
  picked: bucket.value,
}))
const picture = computed(() => (h.value ? historyChart(h.value, words.value) : undefined))
const points = computed(() => h.value?.buckets.map((b) => pointWords(b, words.value)) ?? [])
const compareWith = (b: S['HistoryBucket']) => ({
  name: 'desk',
  query: {
    side: [
      toAddress({ kind: 'group', atlas_id: form.atlas_id, plan_id: form.plan_id }),
      toAddress({
        kind: 'group',
        atlas_id: form.atlas_id,
        plan_id: form.plan_id,
        ...(form.by === 'supplier'
          ? { supplier: b.key }
          : form.by === 'cutter'
            ? { cutter: b.key }
            : { plan_id: b.key.split('/')[1] ?? '' }),
      }),
    ],
  },
})
const pick = (key: string) => {
  bucket.value = bucket.value === key ? '' : key
}
function showAll() {
  bucket.value = ''
  open.value = true
}
</script>

<template>
  <form class="ask no-print" aria-label="Which pieces" @submit.prevent>
    <span class="one"
      >Piece
      <PickOne :model-value="form.atlas_id" label="Piece" :options="pieces" none="all" @update:model-value="pickPiece"
    /></span>
    <span class="one"
      >Plan
      <PickOne v-model="form.plan_id" label="Plan" :options="plans?.plans" by="plan.id" called="plan.name" none="any"
    /></span>
    <span class="one"
      >Supplier <PickOne v-model="form.supplier" label="Supplier" :options="shop?.suppliers" none="anybody"
    /></span>
    <span class="one"
      >Cutter
      <PickOne
        v-model="form.cutter"
        label="Cutter"
        :options="cutters?.buckets.filter((b) => b.key)"
        by="key"
        none="anybody"
    /></span>
    <span class="one"
      >Shown <PickOne v-model="form.measure" label="Shown" data-test="measure" :options="entriesOf(measures)"
    /></span>
    <span class="one">by <PickOne v-model="form.by" label="by" data-test="by" :options="entriesOf(bys)" /></span>
    <span class="one">From <DayPick id="from" v-model="form.from" label="From" placeholder="any day" /></span>
    <span class="one">to <DayPick id="to" v-model="form.to" label="to" placeholder="today" /></span>
  </form>
  <StateNote :error="error" :loading="isLoading" what="the history" @retry="refetch()" />
  <template v-if="h">
    <h1 class="sentence" data-test="history-sentence">{{ h.sentence }}</h1>
    <ChartFrame
      v-if="h.n && picture"
      :option="picture"
      :label="h.sentence"
      :points="points"
      file="over-time"
      pickable
      @pick="pick(h.buckets[$event]?.key ?? '')"
    >
      {{
        time
          ? 'Points are means; the dashed steps are the limits within which chance alone keeps a mean of so many ' +
            'pieces (mean ± 3 standard deviations). Large points are beyond them.'
          : 'Means, with one standard deviation either way; the line is the mean of all.'
      }}
      Select one for its pieces.
    </ChartFrame>
    <table v-if="h.n && !time" v-wide data-test="buckets">
      <thead>
        <tr>
          <th>{{ bys[form.by as keyof typeof bys] }}</th>
          <th class="n">Pieces</th>
          <th class="n">Mean</th>
          <th class="n">Spread</th>
          <th class="n">Difference from the others</th>
          <th class="n">p</th>
          <th>Is it real?</th>
          <th><span class="vh">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="b in h.buckets" :key="b.key">
          <td>
            <button type="button" class="pick" @click="pick(b.key)">{{ name(b) }}</button>
          </td>
          <td class="n">{{ b.n }}</td>
          <td class="n">{{ show(b.mean) }}</td>
          <td class="n">{{ minus(b.sd.toFixed(2)) }}</td>
          <td class="n">{{ b.difference === undefined ? '' : show(b.difference, true) }}</td>
          <td class="n">{{ b.p === undefined ? '' : b.p.toFixed(3) }}</td>
          <td>
            {{
              b.alone
                ? 'nothing else was cut by its plans'
                : (b.verdict ?? (form.by === 'piece' ? '' : 'too few to tell'))
            }}
          </td>
          <td><RouterLink v-if="form.atlas_id && form.by !== 'piece'" :to="compareWith(b)">compare</RouterLink></td>
        </tr>
      </tbody>
    </table>
    <p v-if="h.n && !form.plan_id && !time && form.by !== 'piece'" class="small">
      Each is held against the others within the same plan and kind of piece, and corrected for asking of all at once
      (Holm).
    </p>
    <p v-if="form.by === 'supplier' && form.measure === 'value'" class="small">
      To hold suppliers against each other at equal price, show the worth before the block is paid.
    </p>
    <section v-if="h.n" class="behind">
      <div class="row">
        <h2>{{ bucket ? `Pieces of ${name(h.buckets.find((b) => b.key === bucket)!)}` : 'The pieces' }}</h2>
        <PvButton v-if="bucket" text label="All pieces" @click="showAll" /><PvButton
          v-else-if="!open"
          text
          label="Show them"
          @click="open = true"
        />
      </div>
      <ListTable
        v-if="list.length"
        data-test="pieces"
        :rows="list"
        :columns="columns"
        :row-key="(p) => p.breakdown_id"
        :part="hasNextPage"
        :page-size="200"
        label="The pieces"
        empty=""
      >
        <template #lot="{ row: p }"
          ><RouterLink :to="{ name: 'compare', params: { breakdown: p.breakdown_id } }">{{
            p.lot_number
          }}</RouterLink></template
        >
        <template #plan="{ row: p }">{{ p.plan }}</template>
        <template #supplier="{ row: p }">{{ p.supplier }}</template>
        <template #cutter="{ row: p }">{{ p.cutter }}</template>
        <template #finished="{ row: p }">{{ moment(p.closed_at) }}</template>
        <template #weight="{ row: p }">{{ mass(p.input_g, 2) }}</template>
        <template #meat="{ row: p }">{{ percent(p.saleable_pct) }}</template>
        <template #loss="{ row: p }">{{ percent(p.loss_pct) }}</template>
        <template #minutes="{ row: p }">{{ p.minutes.toFixed(0) }}</template>
        <template #worth="{ row: p }">{{ money(perUnit(p.before_purchase_per_kg)) }}</template>
        <template #value="{ row: p }">{{ money(perUnit(p.per_kg)) }}</template>
      </ListTable>
      <PvButton
        v-if="hasNextPage"
        severity="secondary"
        label="More"
        :loading="isFetchingNextPage"
        @click="fetchNextPage()"
      />
    </section>
  </template>
</template>

<style scoped>
.ask {
  display: flex;
  gap: 10px 20px;
  flex-wrap: wrap;
  align-items: center;
}
.ask label,
.ask .one {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-width: 0;
  max-width: 100%;
}
.ask :deep(.p-inputtext) {
  width: 120px;
}
.sentence {
  margin: 18px 0 10px;
}
.pick {
  border: 0;
  background: none;
  font: inherit;
  color: var(--ink);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
  min-height: 36px;
  padding: 0;
}
td,
th {
  padding: 4px 8px;
}
td:first-child,
th:first-child {
  padding-left: 0;
  white-space: nowrap;
}
</style>
