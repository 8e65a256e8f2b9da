<script setup lang="ts">
// The pieces behind a history, or behind one of its points, the latest first.
import { computed } from 'vue'
import { useInfiniteQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import { data, GET, type S } from '../api/client'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import { useShop } from '../shell/shop'
import { moment, percent } from '../words/shown'
import { say } from '../words/say'

const props = defineProps<{ query: Record<string, string>; bucket: string }>()
const { mass, money, perUnit, unitWord } = useShop()
const {
  data: pages,
  hasNextPage,
  fetchNextPage,
  isFetchingNextPage,
} = useInfiniteQuery({
  queryKey: computed(() => keyOf('history-pieces', props.query, props.bucket)),
  initialPageParam: '',
  queryFn: ({ pageParam }) =>
    data(
      GET('/history/pieces', {
        params: {
          query: {
            ...props.query,
            ...(props.bucket && { bucket: props.bucket }),
            ...(pageParam && { after: pageParam }),
          },
        },
      }),
    ),
  getNextPageParam: (last) => last.next,
})
const list = computed(() => pages.value?.pages.flatMap((p) => p.pieces) ?? [])
const columns = computed<ListColumn<S['HistoryPiece']>[]>(() => [
  { id: 'lot', head: say('Piece'), by: (p) => p.lot_number, whole: true },
  { id: 'plan', head: say('Plan'), by: (p) => p.plan },
  { id: 'supplier', head: say('Supplier'), by: (p) => p.supplier },
  { id: 'cutter', head: say('Cutter'), by: (p) => p.cutter },
  { id: 'finished', head: say('Finished'), by: (p) => p.closed_at },
  { id: 'weight', head: say('Weight'), by: (p) => p.input_g, number: true },
  { id: 'meat', head: say('Meat'), by: (p) => p.saleable_pct, number: true },
  { id: 'loss', head: say('Loss'), by: (p) => p.loss_pct, number: true },
  { id: 'minutes', head: say('Minutes'), by: (p) => p.minutes, number: true },
  { id: 'worth', head: say`Worth per ${unitWord.value}`, by: (p) => Number(p.before_purchase_per_kg), number: true },
  { id: 'value', head: say('Value'), by: (p) => Number(p.per_kg), number: true },
])
</script>

<template>
  <ListTable
    v-if="list.length"
    data-test="pieces"
    :rows="list"
    :columns="columns"
    :row-key="(p) => p.breakdown_id"
    :part="hasNextPage"
    :page-size="200"
    label="The pieces"
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
</template>
