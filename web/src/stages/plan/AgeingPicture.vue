<script setup lang="ts">
// How the muscles of a piece eat by the day, each by its best quick method, and what another week brings and costs.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import StateNote from '../../components/StateNote.vue'
import { apart } from '../../components/apart'
import { data, GET } from '../../api/client'
import { minus, plainDay, shortName, useShop } from '../../shell/shop'

const props = defineProps<{ piece: string }>()
const { mass, money } = useShop()
const {
  data: a,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: ['ageing', props.piece],
  queryFn: () => data(GET('/pieces/{piece_id}/ageing', { params: { path: { piece_id: props.piece } } })),
})
const width = 640
const height = 240
const days = computed(() => a.value?.muscles[0]?.curve.length ?? 42)
const scores = computed(() => a.value?.muscles.flatMap((m) => m.curve) ?? [])
const least = computed(() => Math.min(...scores.value) - 2)
const most = computed(() => Math.max(...scores.value) + 2)
const x = (d: number) => 34 + (d / days.value) * (width - 190)
const y = (s: number) => 10 + ((most.value - s) / (most.value - least.value)) * (height - 40)
const cuts = computed(() => [46.5, 64, 76].filter((c) => c > least.value && c < most.value))
const lines = computed(() =>
  apart(
    (a.value?.muscles ?? []).map((m) => ({
      ...m,
      path: m.curve.map((s, i) => `${x(i + 1)},${y(s)}`).join(' '),
      label: y(m.curve.at(-1) ?? 0),
    })),
  ),
)
</script>

<template>
  <section class="ageing" aria-label="Ageing">
    <h2>Now, or in a week?</h2>
    <StateNote :error="error" :loading="isLoading" what="the ageing" @retry="refetch()" />
    <template v-if="a && a.muscles.length">
      <p data-test="ageing">{{ a.sentence }}</p>
      <svg
        :viewBox="`0 0 ${width} ${height}`"
        role="img"
        :aria-label="
          a.muscles
            .map(
              (m) =>
                `${shortName(m.name)} by ${m.method}: ${m.now.toFixed(0)} today, ${m.gain.toFixed(1)} more in a week`,
            )
            .join('; ')
        "
      >
        <g v-for="c in cuts" :key="c">
          <line class="cut" x1="30" :x2="x(days)" :y1="y(c)" :y2="y(c)" />
          <text class="axis" x="0" :y="y(c) + 4">{{ c }}</text>
        </g>
        <line class="today" :x1="x(a.today)" :x2="x(a.today)" y1="4" :y2="height - 24" />
        <text class="axis" text-anchor="middle" :x="x(a.today)" :y="height - 10">day {{ a.today }}</text>
        <text
          v-for="d in [7, 14, 21, 28, 35, 42].filter((d) => Math.abs(d - a!.today) > 3)"
          :key="d"
          class="axis"
          text-anchor="middle"
          :x="x(d)"
          :y="height - 10"
        >
          {{ d }}
        </text>
        <g v-for="l in lines" :key="l.part">
          <polyline class="line" :points="l.path" />
          <text class="name" :x="x(days) + 6" :y="l.label + 4">{{ shortName(l.name) }}</text>
        </g>
      </svg>
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
              <span :class="{ fault: !m.ready }">{{ m.ready ? 'yes' : plainDay(m.ready_on) }}</span>
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
.cut {
  stroke: var(--hairline);
}
.today {
  stroke: var(--ink);
  stroke-dasharray: 2 3;
}
.axis {
  font-size: 11px;
  fill: var(--ink-2);
}
.line {
  fill: none;
  stroke: var(--act);
  stroke-width: 1.8;
}
.name {
  font-size: 12px;
  font-weight: 650;
  fill: var(--ink);
  font-stretch: 84%;
}
</style>
