<script setup lang="ts">
// Orders that were handed over or cancelled, the latest first.
import MoreRows from '../components/MoreRows.vue'
import StateNote from '../components/StateNote.vue'
import OrderTable from './OrderTable.vue'
import { useEndedOrders } from './useOrders'

const { data: orders, error, isLoading, refetch, hasNextPage, isFetchingNextPage, fetchNextPage } = useEndedOrders()
</script>

<template>
  <section>
    <StateNote :error="error" :loading="isLoading" what="the orders" @retry="refetch()" />
    <OrderTable v-if="orders" :orders="orders" :part="hasNextPage" empty="None has ended yet." />
    <MoreRows :more="hasNextPage" :busy="isFetchingNextPage" @more="fetchNextPage()" />
  </section>
</template>
