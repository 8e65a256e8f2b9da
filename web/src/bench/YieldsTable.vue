<script setup lang="ts">
// What a closed piece gave beside what is usual, and what left the bench, each with the number that traces it to piece
// and lot.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import StateNote from '../components/StateNote.vue'
import { data, GET } from '../api/client'
import { useShop } from '../shell/shop'
import { percent, shortName } from '../words/shown'
import { say } from '../words/say'

const props = defineProps<{ breakdown: string }>()
const { mass } = useShop()
const {
  data: yields,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: keyOf('yields', props.breakdown),
  queryFn: () =>
    data(GET('/breakdowns/{breakdown_id}/yields', { params: { path: { breakdown_id: props.breakdown } } })),
})
const rows = computed(() => yields.value?.rows.filter((r) => r.weight_g > 0 || r.mean_pct > 0) ?? [])
</script>

<template>
  <div class="stack">
    <StateNote :error="error" :loading="isLoading" what="the yields" @retry="refetch()" />
    <template v-if="yields">
      <p data-test="yield-sentence">
        <strong>{{ yields.sentence }}</strong>
      </p>
      <details open>
        <summary>Yields, % of the piece</summary>
        <table v-wide data-test="yields">
          <thead>
            <tr>
              <th>Part</th>
              <th class="n">Weight</th>
              <th class="n">Here</th>
              <th class="n">Usual</th>
              <th class="n">Band</th>
              <th class="n">Min</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in rows" :key="r.kind + r.id" :class="{ odd: r.odd }">
              <td>{{ shortName(r.name) }}</td>
              <td class="n">{{ mass(r.weight_g) }}</td>
              <td class="n">
                {{ percent(r.pct) }} <span v-if="r.odd" class="vh">{{ r.odd }} the band</span>
              </td>
              <td class="n">{{ percent(r.mean_pct) }}</td>
              <td class="n small">
                {{ r.low_pct.toFixed(1) }}–{{ r.high_pct.toFixed(1) }}, {{ r.n ? `n ${r.n}` : say('atlas') }}
              </td>
              <td class="n">{{ r.minutes?.toFixed(1) ?? '' }}</td>
            </tr>
          </tbody>
        </table>
      </details>
      <details>
        <summary>What left the bench, with its batch numbers</summary>
        <table v-wide data-test="outputs">
          <thead>
            <tr>
              <th>Number</th>
              <th>What</th>
              <th class="n">Weight</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="o in yields.outputs" :key="o.number">
              <td class="number">{{ o.number }}</td>
              <td>
                {{ shortName(o.name)
                }}<span class="small"
                  >{{ o.of ? say`, of ${shortName(o.of).toLowerCase()}` : '' }}{{ o.count ? ` × ${o.count}` : ''
                  }}{{ o.shared ? say`, a share of ${o.shared}` : '' }}</span
                >
              </td>
              <td class="n">{{ mass(o.weight_g) }}</td>
            </tr>
          </tbody>
        </table>
        <p class="small">
          Lot, piece and place in the log: the number leads back to both, and stands in the exported outputs.
        </p>
      </details>
    </template>
  </div>
</template>

<style scoped>
summary {
  min-height: 44px;
  display: flex;
  align-items: center;
  cursor: pointer;
  font-weight: 650;
}
table {
  width: 100%;
}
td,
th {
  padding: 4px 6px;
}
.odd {
  background: var(--act-wash);
  font-weight: 650;
}
.number {
  font-variant-numeric: tabular-nums;
  white-space: nowrap;
}
</style>
