<script setup lang="ts">
// Orders: the open ones by when they are due, those that have ended, and what must still be cut for the open ones.
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import PvButton from 'primevue/button'
import FileLinks from '../components/FileLinks.vue'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { useAddressForm } from '../components/useAddressForm'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted } from '../words/counted'
import { dueText, stateNames, whatText } from './orderWords'
import StillToCut from './StillToCut.vue'
import { useOrders, type Order } from './useOrders'

const router = useRouter()
const { mass, money } = useShop()
const { may } = useMe()
const find = useAddressForm({ show: 'open' })
const shows = { open: 'Open', ended: 'Ended' }
const ended = computed(() => find.show === 'ended')
const { data: list, error, isLoading, refetch } = useOrders(ended)
const orders = computed(() => list.value?.orders ?? [])
const sentence = computed(() => {
  if (!list.value || ended.value) return 'Orders'
  if (!orders.value.length) return 'No order is open.'
  const late = orders.value.filter((o) => o.late).length
  const next = orders.value.find((o) => !o.late)
  return [
    `${counted(orders.value.length, 'order')} open`,
    late ? `${late} late` : '',
    next ? `the next due ${dueText(next)}` : '',
  ]
    .filter(Boolean)
    .join(', ')
    .concat('.')
})
const columns: ListColumn<Order>[] = [
  { id: 'order', head: 'Order', by: (o) => o.number },
  { id: 'due', head: 'Due', by: (o) => o.due_at, whole: true },
  { id: 'what', head: 'What' },
  { id: 'packed', head: 'Packed', by: (o) => o.packed_g, number: true },
  { id: 'total', head: 'Comes to', by: (o) => Number(o.total), number: true },
  { id: 'state', head: 'State', by: (o) => o.state, whole: true },
]
const keyOf = (o: Order) => o.id
const stateText = (o: Order) => (o.state !== 'open' ? stateNames[o.state] : o.ready ? 'all packed' : '')
</script>

<template>
  <section class="page">
    <div class="spread">
      <h1 class="sentence" data-test="orders-sentence">{{ sentence }}</h1>
      <PvButton v-if="may('POST /orders')" label="Take an order" @click="router.push({ name: 'order-new' })" />
    </div>
    <div class="spread no-print">
      <UnitToggle v-model="find.show" :options="Object.keys(shows)" :names="shows" label="Which orders" />
      <FileLinks
        v-if="may('GET /orders/export')"
        lead="Open lines as"
        :files="[
          { label: 'CSV', href: '/api/v1/orders/export?format=csv' },
          { label: 'XLSX', href: '/api/v1/orders/export?format=xlsx' },
          { label: 'JSON', href: '/api/v1/orders/export?format=json' },
          { label: 'Calendar', href: '/api/v1/orders.ics' },
        ]"
      />
    </div>
    <StateNote :error="error" :loading="isLoading" what="the orders" @retry="refetch()" />
    <ListTable
      v-if="list"
      :rows="orders"
      :columns="columns"
      :row-key="keyOf"
      label="Orders"
      :empty="ended ? 'None has ended yet.' : 'Take the first; it binds what is cut and when.'"
    >
      <template #order="{ row: o }"
        ><RouterLink :to="{ name: 'order', params: { order: o.id } }">{{ o.customer }}</RouterLink
        ><span class="small beside">{{ o.number }}</span></template
      >
      <template #due="{ row: o }"
        ><span :class="{ fault: o.late }">{{ dueText(o) }}{{ o.late ? ', late' : '' }}</span></template
      >
      <template #what="{ row: o }">{{ whatText(o) }}</template>
      <template #packed="{ row: o }">{{ mass(o.packed_g, 1) }} of {{ mass(o.ordered_g, 1) }}</template>
      <template #total="{ row: o }">{{ money(o.total) }}</template>
      <template #state="{ row: o }">{{ stateText(o) }}</template>
    </ListTable>
    <StillToCut v-if="!ended" />
  </section>
</template>

<style scoped>
.beside {
  margin-left: 8px;
}
.page > * + * {
  margin-top: 12px;
}
</style>
