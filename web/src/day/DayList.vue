<script setup lang="ts">
// The same by bench, in words: when, what, how, for whom, and what has become of it; a piece can be pinned to a bench.
import { computed } from 'vue'
import PickOne from '../components/PickOne.vue'
import { useShop } from '../shell/shop'
import { workplace } from '../stages/rail/useRail'
import { clockOf, shortName } from '../words/shown'
import { statusNames } from './gantt'
import type { Day, Slot } from './useDay'
import { say } from '../words/say'

const props = defineProps<{ day: Day; may: boolean }>()
const pins = defineModel<Record<string, string>>('pins', { required: true })
const leave = defineModel<string[]>('leave', { required: true })
const { mass } = useShop()
const where = (s: Slot) => (s.piece.breakdown_id ? workplace(s.piece) : { name: 'plan', params: { piece: s.piece.id } })
const statusText = (s: Slot) => {
  if (s.status === 'done' && s.ended_at) return say`done ${clockOf(s.ended_at)}`
  if (s.behind_min) return say`${statusNames[s.status]}, ${s.behind_min} min behind`
  return statusNames[s.status]
}
const benches = computed(() => props.day.posts.map((p) => ({ id: p.bench_id, name: p.bench })))
function pin(s: Slot, bench: string) {
  const next = { ...pins.value }
  if (bench) next[s.piece.id] = bench
  else delete next[s.piece.id]
  pins.value = next
}
const open = (s: Slot) => s.status === 'waits' || s.status === 'behind'
function tick(s: Slot, on: boolean) {
  leave.value = on ? leave.value.filter((id) => id !== s.piece.id) : [...leave.value, s.piece.id]
}
</script>

<template>
  <section v-for="p in day.posts" :key="p.bench_id" class="post">
    <h2>
      {{ p.bench }}
      <span class="small">{{ [p.cutter, say`${p.from} to ${p.to}`].filter(Boolean).join(', ') }}</span>
    </h2>
    <p v-if="!p.slots.length" class="small">Nothing is to be cut here.</p>
    <table v-else v-wide>
      <thead>
        <tr>
          <th class="time">From</th>
          <th class="time">To</th>
          <th class="piece">Piece</th>
          <th class="n weight">Weight</th>
          <th>Plan</th>
          <th class="order">For</th>
          <th class="order">State</th>
          <th v-if="may" class="no-print pin">Bench</th>
          <th v-if="may" class="no-print time">Today</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in p.slots" :key="s.piece.id" :data-slot="s.piece.id">
          <td class="at">{{ clockOf(s.from) }}</td>
          <td class="at">{{ clockOf(s.to) }}</td>
          <td>
            <RouterLink :to="where(s)">{{ s.piece.name }}</RouterLink>
            <span class="small whole">{{ s.piece.lot_number }} / {{ s.piece.number }}</span>
          </td>
          <td class="n">{{ mass(s.piece.weight_g, 2) }}</td>
          <td>
            {{ shortName(s.piece.plan_name ?? '')
            }}<span v-if="s.saw_from && s.saw_to" class="small">
              saw {{ clockOf(s.saw_from) }} to {{ clockOf(s.saw_to) }}</span
            ><span v-if="s.allergen" class="small"> allergen</span>
          </td>
          <td class="whole">{{ s.orders.join(', ') }}</td>
          <td :class="{ fault: s.behind_min > 0 }">{{ statusText(s) }}</td>
          <td v-if="may" class="no-print">
            <PickOne
              v-if="open(s)"
              :model-value="pins[s.piece.id] ?? ''"
              :options="benches"
              none="any"
              :label="say`Bench of ${s.piece.name} ${s.piece.number}`"
              @update:model-value="(b: string) => pin(s, b)"
            />
          </td>
          <td v-if="may" class="no-print">
            <label v-if="open(s)" class="tick"
              ><input
                type="checkbox"
                :checked="!leave.includes(s.piece.id)"
                :aria-label="say`Cut ${s.piece.name} ${s.piece.lot_number} / ${s.piece.number} on this day`"
                @change="tick(s, ($event.target as HTMLInputElement).checked)"
            /></label>
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.post {
  margin-top: 22px;
}
table {
  table-layout: fixed;
  width: 100%;
}
.time {
  width: 66px;
}
.piece {
  width: 26%;
}
.weight {
  width: 92px;
}
.order {
  width: 112px;
}
.pin {
  width: 140px;
}
td:has(> .p-select) {
  width: auto;
  min-width: 0;
}
.whole {
  white-space: nowrap;
}
@media (max-width: 700px) {
  table,
  tbody {
    display: block;
  }
  thead {
    display: none;
  }
  tr {
    display: flex;
    flex-wrap: wrap;
    gap: 2px 12px;
    align-items: center;
    padding: 8px 0;
    border-bottom: 1px solid var(--line);
  }
  td {
    border: 0;
    padding: 0;
  }
  td:nth-child(3),
  td:nth-child(5) {
    flex-basis: 100%;
  }
  td:has(> .p-select) {
    flex: 0 0 160px;
    max-width: none;
  }
  td:has(> .tick) {
    flex: 0 0 44px;
    margin-left: 12px;
  }
  .at {
    font-weight: 700;
  }
}
</style>
