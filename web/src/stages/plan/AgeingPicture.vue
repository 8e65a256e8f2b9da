<script setup lang="ts">
// How the muscles of a piece eat by the day, each by its best quick method, and what another week brings and costs.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../../api/keys'
import ChartFrame from '../../charts/ChartFrame.vue'
import StateNote from '../../components/StateNote.vue'
import { data, GET } from '../../api/client'
import { ageingChart, curveWords } from './ageingChart'
import { useShop } from '../../shell/shop'
import { minus, plainDay, shortName } from '../../words/shown'
import { say } from '../../words/say'

const props = defineProps<{ piece: string }>()
const { mass, money } = useShop()
const {
  data: a,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: keyOf('ageing', props.piece),
  queryFn: () => data(GET('/pieces/{piece_id}/ageing', { params: { path: { piece_id: props.piece } } })),
})
const picture = computed(() => (a.value?.muscles.length ? ageingChart(a.value) : undefined))
</script>

<template>
  <section class="ageing" aria-label="Ageing">
    <h2>Now, or in a week?</h2>
    <StateNote :error="error" :loading="isLoading" what="the ageing" @retry="refetch()" />
    <template v-if="a && a.muscles.length">
      <p data-test="ageing">{{ a.sentence }}</p>
      <ChartFrame
        v-if="picture"
        :option="picture"
        :label="a.muscles.map(curveWords).join('; ')"
        :points="a.muscles.map(curveWords)"
        series="each"
        :height="280"
        :least="560"
        file="ageing"
      />
      <table v-wide>
        <thead>
          <tr>
            <th>Muscle</th>
            <th>By</th>
            <th class="n">Today</th>
            <th class="n">In a week</th>
            <th>Old enough</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="m in a.muscles" :key="m.part">
            <td>{{ shortName(m.name) }}</td>
            <td>{{ m.method.toLowerCase() }}</td>
            <td class="n">{{ m.now.toFixed(0) }}</td>
            <td class="n">{{ m.gain < 0 ? minus(m.gain.toFixed(1)) : `+${m.gain.toFixed(1)}` }}</td>
            <td>
              <span :class="{ fault: !m.ready }">{{ m.ready ? say('yes') : plainDay(m.ready_on) }}</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="small">
        Estimated: the score by its best quick method, towards a plateau. A week costs {{ money(a.loss_cost) }} for
        {{ mass(a.loss_g) }} lost and {{ money(a.store_cost) }} for the store;
        <RouterLink :to="{ name: 'grade-settings' }">both are settings</RouterLink>.
      </p>
    </template>
  </section>
</template>

<style scoped>
.ageing {
  margin-top: 28px;
  border-top: 4px solid var(--ink);
  padding-top: 10px;
  display: flex;
  flex-direction: column;
  gap: 10px;
  max-width: 860px;
}
</style>
