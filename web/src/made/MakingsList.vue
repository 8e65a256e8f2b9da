<script setup lang="ts">
// Batches that are being made and were, the latest first.
import { computed } from 'vue'
import StateNote from '../components/StateNote.vue'
import { useShop } from '../shell/shop'
import { percent, plainDay } from '../words/shown'
import { useMakings } from './useMakings'
import { say } from '../words/say'

const { mass } = useShop()
const { data: list, error, isLoading, refetch } = useMakings()
const rows = computed(() => list.value?.makings ?? [])
</script>

<template>
  <section class="list">
    <h2>Batches</h2>
    <StateNote :error="error" :loading="isLoading" what="the batches" @retry="refetch()" />
    <p v-if="list && !rows.length" class="small">None yet. Begin one above, or from a recipe.</p>
    <table v-if="rows.length" v-wide data-test="makings">
      <thead>
        <tr>
          <th>Batch</th>
          <th>Made</th>
          <th>Use by</th>
          <th class="n">Meat in</th>
          <th class="n">Came</th>
          <th class="n">Lost</th>
          <th>State</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="m in rows" :key="m.id">
          <td>
            <RouterLink :to="{ name: 'making', params: { making: m.id } }">{{ m.name }}</RouterLink>
            <span class="small">{{ m.lot_number }}</span>
          </td>
          <td>{{ plainDay(m.made_on) }}</td>
          <td>{{ plainDay(m.use_by) }}</td>
          <td class="n">{{ mass(m.meat_g, 2) }}</td>
          <td class="n">{{ mass(m.came_g, 2) }}</td>
          <td class="n">{{ m.state === 'closed' ? percent(m.loss_pct) : '–' }}</td>
          <td>{{ m.state === 'open' ? say('open') : say('made') }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.list {
  margin-top: 28px;
}
</style>
