<script setup lang="ts">
// The stock log: what became of what, the latest first; each can be taken back.
import { useQueryClient } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import BecameTable from './BecameTable.vue'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import MoreRows from '../components/MoreRows.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { usePages } from '../api/usePages'
import { useFeedback } from '../feedback/useFeedback'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { moment, plainDay } from '../words/shown'
import { kindNames, placeNames } from './tubWords'
import { useStockBooking } from './useStock'
import { say } from '../words/say'

type Line = S['GoodsEvent']
const { mass } = useShop()
const { may } = useMe()
const { done } = useFeedback()
const queries = useQueryClient()
const { undo } = useStockBooking()
const { busy, problem, attempt } = useAttempt()
const {
  data: list,
  error,
  isLoading,
  refetch,
  hasNextPage,
  isFetchingNextPage,
  fetchNextPage,
} = usePages(
  keyOf('goods-log'),
  (query) => data(GET('/goods/events', { params: { query: query.after ? { before: query.after } : {} } })),
  (page) => page.events,
)
const columns: ListColumn<Line>[] = [
  { id: 'at', head: say('When'), whole: true },
  { id: 'name', head: say('What') },
  { id: 'kind', head: say('Became') },
  { id: 'g', head: say('Weight'), number: true },
  { id: 'by', head: say('By') },
  { id: 'undo', head: say('Put right') },
]
const back = (e: Line) =>
  attempt(async () => {
    await undo(e.id)
    await queries.invalidateQueries({ queryKey: keyOf('goods-log') })
    done(say('Taken back.'))
  })
const free = (e: Line) => !e.undone && e.kind !== 'undone' && !e.batch
</script>

<template>
  <section class="page">
    <h1 class="sentence">What became of the stock</h1>
    <BecameTable />
    <h2>Booking by booking</h2>
    <StateNote :error="error" :loading="isLoading" what="the log" @retry="refetch()" />
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <ListTable
      v-if="list"
      :rows="list"
      :columns="columns"
      :row-key="(e) => e.id"
      :row-class="(e) => (e.undone ? 'void' : undefined)"
      part
      label="The stock log"
      empty="Nothing was booked yet."
    >
      <template #at="{ row: e }">{{ moment(e.at) }}</template>
      <template #name="{ row: e }"
        >{{ e.name || '–' }} <span v-if="e.made_on" class="small">{{ plainDay(e.made_on) }}</span></template
      >
      <template #kind="{ row: e }"
        >{{ kindNames[e.kind] ?? e.kind }}<template v-if="e.place"> to {{ placeNames[e.place] ?? e.place }}</template
        >{{ e.batch ? ` ${e.batch}` : '' }}<template v-if="e.undone">, taken back</template>
        <span v-if="e.note" class="small">{{ e.note }}</span></template
      >
      <template #g="{ row: e }">{{ e.change_g ? mass(e.change_g) : '–' }}</template>
      <template #by="{ row: e }">{{ e.by ?? '–' }}</template>
      <template #undo="{ row: e }"
        ><button
          v-if="free(e) && may('PUT /goods/events/{event_id}/undo')"
          type="button"
          class="link"
          :disabled="busy"
          @click="back(e)"
        >
          take back
        </button></template
      >
    </ListTable>
    <MoreRows :more="hasNextPage" :busy="isFetchingNextPage" @more="fetchNextPage()" />
  </section>
</template>

<style scoped>
.link {
  border: 0;
  background: none;
  min-height: 44px;
  color: var(--act);
  text-decoration: underline;
  cursor: pointer;
}
</style>
