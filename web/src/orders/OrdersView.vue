<script setup lang="ts">
// Orders: the open ones by when they are due, those that have ended, and what must still be cut for the open ones.
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import PvButton from 'primevue/button'
import FileLinks from '../components/FileLinks.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { useAddressForm } from '../components/useAddressForm'
import { useMe } from '../shell/me'
import { counted, say } from '../words/say'
import EndedOrders from './EndedOrders.vue'
import { dueText } from './orderWords'
import OrderTable from './OrderTable.vue'
import StillToCut from './StillToCut.vue'
import { useOrders } from './useOrders'

const router = useRouter()
const { may } = useMe()
const find = useAddressForm({ show: 'open' })
const shows = { open: say('Open'), ended: say('Ended') }
const ended = computed(() => find.show === 'ended')
const { data: list, error, isLoading, refetch } = useOrders()
const orders = computed(() => list.value?.orders ?? [])
const sentence = computed(() => {
  if (!list.value || ended.value) return say('Orders')
  if (!orders.value.length) return say('No order is open.')
  const late = orders.value.filter((o) => o.late).length
  const next = orders.value.find((o) => !o.late)
  return [
    say`${counted(orders.value.length, 'order')} open`,
    late ? say`${late} late` : '',
    next ? say`the next due ${dueText(next)}` : '',
  ]
    .filter(Boolean)
    .join(', ')
    .concat('.')
})
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
          { label: say('Calendar'), href: '/api/v1/orders.ics' },
        ]"
      />
    </div>
    <StateNote :error="error" :loading="isLoading" what="the orders" @retry="refetch()" />
    <OrderTable v-if="list && !ended" :orders="orders" empty="Take the first; it binds what is cut and when." />
    <EndedOrders v-if="ended" />
    <StillToCut v-if="!ended" />
  </section>
</template>

<style scoped>
.page > * + * {
  margin-top: 12px;
}
</style>
