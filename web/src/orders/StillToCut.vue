<script setup lang="ts">
// What open orders want beyond what is packed, what of that lies in stock, and what must be cut.
import { computed } from 'vue'
import { useShop } from '../shell/shop'
import { moment } from '../words/shown'
import { useNeeds } from './useOrders'

const { mass } = useShop()
const { data: needs } = useNeeds()
const rows = computed(() => (needs.value ?? []).filter((n) => n.to_cut_g > 0))
const served = computed(() => (needs.value ?? []).length - rows.value.length)
</script>

<template>
  <section v-if="needs?.length" class="needs">
    <h2>Still to cut</h2>
    <p v-if="!rows.length" class="small">Everything that is not packed yet lies in stock.</p>
    <table v-else v-wide data-test="needs">
      <thead>
        <tr>
          <th>Product</th>
          <th class="n">Wanted</th>
          <th class="n">In stock</th>
          <th class="n">To cut</th>
          <th>First due</th>
          <th>For</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="n in rows" :key="n.key">
          <td>{{ n.name }}</td>
          <td class="n">{{ mass(n.wanted_g, 2) }}</td>
          <td class="n">{{ n.in_stock_g ? mass(n.in_stock_g, 2) : '–' }}</td>
          <td class="n">
            <strong>{{ mass(n.to_cut_g, 2) }}</strong>
          </td>
          <td>{{ moment(n.first) }}</td>
          <td>{{ n.orders.join(', ') }}</td>
        </tr>
      </tbody>
    </table>
    <p class="small">
      <template v-if="served && rows.length">The rest lies in stock. </template>
      <RouterLink :to="{ name: 'best-use' }">Best use</RouterLink> and
      <RouterLink :to="{ name: 'day' }">the day</RouterLink> cut for it.
    </p>
  </section>
</template>

<style scoped>
.needs {
  margin-top: 28px;
}
</style>
