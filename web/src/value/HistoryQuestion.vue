<script setup lang="ts">
// Which pieces a history is of, what is shown of them, and by what.
import { toRef } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'
import { useAtlasPieces } from '../atlas/useAtlasPieces'
import DayPick from '../components/DayPick.vue'
import { entriesOf } from '../components/entries'
import PickOne from '../components/PickOne.vue'
import { usePlans } from '../plans/usePlans'
import { useShop } from '../shell/shop'

export interface HistoryForm {
  by: string
  measure: string
  atlas_id: string
  plan_id: string
  supplier: string
  cutter: string
  from: string
  to: string
}
const props = defineProps<{ form: HistoryForm; bys: Record<string, string>; measures: Record<string, string> }>()
const { shop } = useShop()
const { data: pieces } = useAtlasPieces()
const ask = toRef(props, 'form')
const { data: plans } = usePlans(() => ask.value.atlas_id || undefined)
function pickPiece(id: string) {
  ask.value.atlas_id = id
  ask.value.plan_id = ''
}
const { data: cutters } = useQuery({
  queryKey: keyOf('history', 'cutters'),
  queryFn: () => data(GET('/history', { params: { query: { by: 'cutter' } } })),
})
</script>

<template>
  <form class="ask no-print" aria-label="Which pieces" @submit.prevent>
    <span class="one"
      >Piece
      <PickOne :model-value="ask.atlas_id" label="Piece" :options="pieces" none="all" @update:model-value="pickPiece"
    /></span>
    <span class="one"
      >Plan
      <PickOne v-model="ask.plan_id" label="Plan" :options="plans?.plans" by="plan.id" called="plan.name" none="any"
    /></span>
    <span class="one"
      >Supplier <PickOne v-model="ask.supplier" label="Supplier" :options="shop?.suppliers" none="anybody"
    /></span>
    <span class="one"
      >Cutter
      <PickOne
        v-model="ask.cutter"
        label="Cutter"
        :options="cutters?.buckets.filter((b) => b.key)"
        by="key"
        none="anybody"
    /></span>
    <span class="one"
      >Shown <PickOne v-model="ask.measure" label="Shown" data-test="measure" :options="entriesOf(measures)"
    /></span>
    <span class="one">by <PickOne v-model="ask.by" label="by" data-test="by" :options="entriesOf(bys)" /></span>
    <span class="one">From <DayPick id="from" v-model="ask.from" lazy label="From" placeholder="any day" /></span>
    <span class="one">to <DayPick id="to" v-model="ask.to" lazy label="to" placeholder="today" /></span>
  </form>
</template>

<style scoped>
.ask {
  display: flex;
  gap: 10px 20px;
  flex-wrap: wrap;
  align-items: center;
}
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
</style>
