<script setup lang="ts">
// Every breakdown, found by any word of it; each can be gone through event by event, and all go out as files.
import { computed, ref, watch } from 'vue'
import { useInfiniteQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { data, fileBody, GET, POST, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useLookingBack } from '../api/useLookingBack'
import { asProblem } from '../api/problem'
import { useMe } from '../shell/me'
import { moment, percent } from '../words/shown'
import { useShop } from '../shell/shop'
import { dayOr } from '../words/typed'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import { useAddressForm } from '../components/useAddressForm'
import DayPick from '../components/DayPick.vue'
import PickOne from '../components/PickOne.vue'
import { entriesOf, filesIn } from '../components/entries'
import FileLinks from '../components/FileLinks.vue'
import FilePick from '../components/FilePick.vue'
import { counted, say } from '../words/say'

const { mass, money, perUnit, unit } = useShop()
const { may } = useMe()
const form = useAddressForm({ text: '', state: '', from: '', to: '' })
let timer: ReturnType<typeof setTimeout> | undefined
watch(form, () => {
  clearTimeout(timer)
  timer = setTimeout(() => {
    asked.value = query()
  }, 200)
})
function query() {
  return Object.fromEntries(
    Object.entries({ text: form.text.trim(), state: form.state, from: dayOr(form.from), to: dayOr(form.to) }).filter(
      ([, v]) => v,
    ),
  )
}
const asked = ref<Record<string, string>>(query())
const list = useInfiniteQuery({
  queryKey: computed(() => keyOf('breakdowns', asked.value)),
  initialPageParam: '',
  queryFn: ({ pageParam }) =>
    data(GET('/breakdowns', { params: { query: { ...asked.value, ...(pageParam && { after: pageParam }) } } })),
  getNextPageParam: (last) => last.next,
})
const { data: pages, error, isLoading, hasNextPage, fetchNextPage, isFetchingNextPage, refetch } = list
const rows = computed(() => pages.value?.pages.flatMap((p) => p.breakdowns) ?? [])
const { searchedTo } = useLookingBack(
  list,
  () => rows.value.length,
  (p) => p.searched_to,
)
const problem = computed(() => (error.value ? asProblem(error.value) : undefined))
const fault = (f: string) => problem.value?.at(f) ?? ''
const words = computed(() => new URLSearchParams(asked.value as Record<string, string>).toString())
const file = (format: string) => `/api/v1/breakdowns/export?format=${format}${words.value ? `&${words.value}` : ''}`
const files = computed(() => filesIn(['csv', 'xlsx', 'json'], file))
const { busy, problem: refused, attempt } = useAttempt()
const said = ref('')
const bad = ref<string[]>([])
const take = (chosen: File) =>
  attempt(async () => {
    said.value = ''
    bad.value = []
    const done = await data(
      POST('/breakdowns/import', {
        ...fileBody(chosen),
      }),
    )
    const sum = (of: 'added' | 'present') => done.lines.reduce((n, l) => n + l[of], 0)
    said.value = say`${counted(sum('added'), 'event')} imported, ${sum('present')} were here already.`
    bad.value = done.lines.flatMap((l) => (l.fault ? [`${l.lot_number}: ${l.fault}`] : []))
    await refetch()
  })
const nothingYet = say('Nothing yet. What is cut at a bench stands here, event by event.')
type Row = S['BreakdownRow']
const lossOf = (r: Row) => (r.input_g ? (r.loss_g / r.input_g) * 100 : 0)
const columns = computed<ListColumn<Row>[]>(() => [
  { id: 'piece', head: say('Piece'), by: (r) => r.piece },
  { id: 'lot', head: say('Lot'), by: (r) => r.lot_number, whole: true },
  { id: 'plan', head: say('Plan'), by: (r) => r.plan },
  { id: 'cutter', head: say('Cutter'), by: (r) => r.cutters ?? '' },
  { id: 'when', head: say('When'), by: (r) => r.closed_at ?? '' },
  { id: 'weight', head: say('Weight'), by: (r) => r.input_g, number: true },
  { id: 'loss', head: say('Loss'), by: lossOf, number: true },
  { id: 'minutes', head: say('Minutes'), by: (r) => r.minutes, number: true },
  {
    id: 'gain',
    head: say`Against straight, per ${unit.value}`,
    by: (r) => Number(r.difference_per_kg ?? 0),
    number: true,
  },
])
const states: Record<string, string> = {
  waiting: say('waits for the scale'),
  open: say('being cut'),
  closed: say('finished'),
}
</script>

<template>
  <section class="page">
    <div class="spread">
      <h1 class="sentence">Everything that was cut</h1>
      <RouterLink class="trials" :to="{ name: 'trials' }">Trials: is a difference real?</RouterLink
      ><span v-if="may('GET /breakdowns/export')" class="row"
        ><FileLinks lead="These as" :files="files" /><FilePick
          v-if="may('POST /breakdowns/import')"
          link
          label="Import JSON"
          accept=".json,application/json"
          :busy="busy"
          @picked="take"
      /></span>
    </div>
    <p v-if="said" role="status">
      <strong>{{ said }}</strong>
    </p>
    <p v-if="refused" class="fault" role="alert">
      {{ refused.ofFile() }}
    </p>
    <p v-for="b in bad" :key="b" class="fault">{{ b }}</p>
    <div class="filters">
      <FormField id="text" label="Piece, lot, supplier, plan or cutter" :fault="fault('text')"
        ><InputText id="text" v-model="form.text" autocomplete="off"
      /></FormField>
      <FormField id="state" label="State" :fault="fault('state')"
        ><PickOne id="state" v-model="form.state" :options="entriesOf(states)" none="any"
      /></FormField>
      <FormField id="from" label="From day" :fault="fault('from')"
        ><DayPick id="from" v-model="form.from" lazy placeholder="−7"
      /></FormField>
      <FormField id="to" label="To day" :fault="fault('to')"><DayPick id="to" v-model="form.to" lazy /></FormField>
    </div>
    <StateNote v-if="!problem?.errors.length" :error="error" :loading="isLoading" what="the log" @retry="refetch()" />
    <ListTable
      v-if="pages && !problem && (rows.length || !searchedTo)"
      :rows="rows"
      :columns="columns"
      :row-key="(r) => r.id"
      :part="hasNextPage"
      label="What was cut"
      :empty="words ? say('Nothing fits. Ask for less.') : nothingYet"
    >
      <template #piece="{ row: r }"
        ><RouterLink :to="{ name: 'replay', params: { breakdown: r.id } }">{{ r.piece }}</RouterLink></template
      >
      <template #lot="{ row: r }"
        ><RouterLink :to="{ name: 'lot', params: { lot: r.lot_id } }">{{ r.lot_number }}</RouterLink
        ><br /><span class="small">{{ r.supplier }}</span></template
      >
      <template #plan="{ row: r }"
        ><span class="small">{{ r.plan }}</span></template
      >
      <template #cutter="{ row: r }"
        >{{ r.cutters ?? '' }}<br /><span class="small">{{ r.bench }}</span></template
      >
      <template #when="{ row: r }"
        ><span class="small">{{ r.closed_at ? moment(r.closed_at) : states[r.state] }}</span></template
      >
      <template #weight="{ row: r }">{{ r.input_g ? mass(r.input_g, 2) : '' }}</template>
      <template #loss="{ row: r }">{{ r.state === 'closed' ? percent(lossOf(r)) : '' }}</template>
      <template #minutes="{ row: r }">{{ r.minutes ? r.minutes.toFixed(0) : '' }}</template>
      <template #gain="{ row: r }">{{ r.difference_per_kg ? money(perUnit(r.difference_per_kg), true) : '' }}</template>
    </ListTable>
    <p v-if="searchedTo" class="small" role="status">Looked back to {{ moment(searchedTo) }}, and still looking…</p>
    <div v-if="hasNextPage" class="row more">
      <PvButton severity="secondary" label="Earlier ones" :loading="isFetchingNextPage" @click="fetchNextPage()" />
    </div>
  </section>
</template>

<style scoped>
.trials {
  margin-right: auto;
  min-height: 44px;
  display: inline-flex;
  align-items: center;
}
.filters {
  display: grid;
  grid-template-columns: minmax(0, 2fr) 1fr 1fr 1fr;
  gap: 14px;
  margin: 14px 0 18px;
  align-items: start;
}
.more {
  margin-top: 14px;
}
@media (max-width: 700px) {
  .filters {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
