<script setup lang="ts">
// Orders as a table.
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import { useShop } from '../shell/shop'
import { dueText, stateNames, whatText } from './orderWords'
import type { Order } from './useOrders'
import { say } from '../words/say'

defineProps<{ orders: Order[]; empty: string; part?: boolean }>()
const { mass, money } = useShop()
const columns: ListColumn<Order>[] = [
  { id: 'order', head: say('Order'), by: (o) => o.number },
  { id: 'due', head: say('Due'), by: (o) => o.due_at, whole: true },
  { id: 'what', head: say('What') },
  { id: 'packed', head: say('Packed'), by: (o) => o.packed_g, number: true },
  { id: 'total', head: say('Comes to'), by: (o) => Number(o.total), number: true },
  { id: 'state', head: say('State'), by: (o) => o.state, whole: true },
]
const keyOf = (o: Order) => o.id
const stateText = (o: Order) => (o.state !== 'open' ? stateNames[o.state] : o.ready ? say('all packed') : '')
</script>

<template>
  <ListTable :rows="orders" :columns="columns" :part="part" :row-key="keyOf" label="Orders" :empty="empty">
    <template #order="{ row: o }"
      ><RouterLink :to="{ name: 'order', params: { order: o.id } }">{{ o.customer }}</RouterLink
      ><span class="small row-beside">{{ o.number }}</span></template
    >
    <template #due="{ row: o }"
      ><span :class="{ fault: o.late }">{{ dueText(o) }}{{ o.late ? say(', late') : '' }}</span></template
    >
    <template #what="{ row: o }">{{ whatText(o) }}</template>
    <template #packed="{ row: o }">{{ mass(o.packed_g, 1) }} of {{ mass(o.ordered_g, 1) }}</template>
    <template #total="{ row: o }">{{ money(o.total) }}</template>
    <template #state="{ row: o }">{{ stateText(o) }}</template>
  </ListTable>
</template>
