<script setup lang="ts">
// What finished pieces gave: over time with control limits, cutter by cutter, supplier by supplier; down to the pieces.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import ChartFrame from '../charts/ChartFrame.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, type S } from '../api/client'
import { useShop } from '../shell/shop'
import { minus, percent, shortName } from '../words/shown'
import { dayOr } from '../words/typed'
import { useAddressForm } from '../components/useAddressForm'
import HistoryPieces from './HistoryPieces.vue'
import HistoryQuestion from './HistoryQuestion.vue'
import { historyChart, pointWords } from './historyChart'
import { toAddress } from './picks'
import { say } from '../words/say'

const { money, perUnit } = useShop()
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
const query = computed(
  () =>
    Object.fromEntries(
      Object.entries({ ...form, from: dayOr(form.from), to: dayOr(form.to) }).filter(([, v]) => v),
    ) as Record<string, string>,
)
watch(query, () => (bucket.value = ''))
const {
  data: h,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('history', query.value)),
  queryFn: () => data(GET('/history', { params: { query: query.value } })),
  retry: false,
})
const bucket = ref('')
const open = ref(false)
const bys = {
  week: 'week',
  month: 'month',
  plan: 'plan',
  cutter: 'cutter',
  supplier: 'supplier',
  piece: say('kind of piece'),
}
const measures = {
  before_purchase: say('sales value per kg, before meat cost'),
  value: say('value per kg, after all costs'),
  yield: say('saleable meat, %'),
  minutes: say('bench minutes per kg'),
  loss: say('loss, %'),
}
const isMoney = computed(() => form.measure === 'before_purchase' || form.measure === 'value')
const show = (v: number, sign = false) =>
  isMoney.value
    ? money(perUnit(v), sign)
    : form.measure === 'minutes'
      ? perUnit(v).toFixed(2)
      : `${sign && v > 0 ? '+' : ''}${percent(v)}`
const time = computed(() => form.by === 'week' || form.by === 'month')
const name = (b: S['HistoryBucket']) => b.name || b.key || say('no cutter')
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
  <HistoryQuestion :form="form" :bys="bys" :measures="measures" />
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
          ? say(
              'Points are means; the dashed steps are the limits within which chance alone keeps a mean of so many ' +
                'pieces (mean ± 3 standard deviations). Large points are beyond them.',
            )
          : say('Means, with one standard deviation either way; the line is the mean of all.')
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
          <td class="n">{{ b.p === undefined ? '' : b.p < 0.001 ? '< 0.001' : b.p.toFixed(3) }}</td>
          <td>
            {{
              b.alone
                ? say('nothing else was cut by its plans')
                : (b.verdict ?? (form.by === 'piece' ? '' : say('too few to tell')))
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
        <h2>{{ bucket ? say`Pieces of ${name(h.buckets.find((b) => b.key === bucket)!)}` : say('The pieces') }}</h2>
        <PvButton v-if="bucket" text label="All pieces" @click="showAll" /><PvButton
          v-else-if="!open"
          text
          label="Show them"
          @click="open = true"
        />
      </div>
      <HistoryPieces v-if="open || bucket" :query="query" :bucket="bucket" />
    </section>
  </template>
</template>

<style scoped>
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
