<script setup lang="ts">
// Who cuts what when: a row for each bench; what is on the saw is hatched, what is done is filled, a line is now.
import { computed } from 'vue'
import { workplace } from '../stages/rail/useRail'
import { clockOf } from '../words/shown'
import { fitting, hours, left, rowHigh, scaleOf, slotName, top, wide } from './gantt'
import type { Day, Slot } from './useDay'

const props = defineProps<{ day: Day }>()
const scale = computed(() => scaleOf(props.day))
const high = computed(() => top + props.day.posts.length * rowHigh + 24)
const now = computed(() => {
  const t = new Date(props.day.now).getTime()
  return t > scale.value.from && t < scale.value.to ? scale.value.x(props.day.now) : undefined
})
const y = (row: number) => top + row * rowHigh
const x = (iso: string) => scale.value.x(iso)
const width = (s: Pick<Slot, 'from' | 'to'>) => Math.max(3, x(s.to) - x(s.from))
/** Orders that are due within the picture. */
const dues = computed(() =>
  props.day.orders.filter((o) => {
    const t = new Date(o.due).getTime()
    return t > scale.value.from && t <= scale.value.to
  }),
)
</script>

<template>
  <svg
    class="gantt"
    :viewBox="`0 0 ${wide} ${high}`"
    role="group"
    aria-label="The day, a row for each bench"
    data-test="gantt"
  >
    <defs>
      <pattern id="on-saw" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="6" height="6" class="saw-ground" />
        <path d="M0 0V6" class="saw-line" />
      </pattern>
    </defs>
    <g v-for="h in hours(scale)" :key="h">
      <path :d="`M${x(h)} ${top}V${high - 24}`" class="hour" />
      <text :x="x(h)" :y="top - 9" class="small" text-anchor="middle">{{ clockOf(h) }}</text>
    </g>
    <g v-for="(p, row) in day.posts" :key="p.bench_id">
      <path :d="`M0 ${y(row)}H${wide}`" class="line" />
      <text x="0" :y="y(row) + 26" class="bench">{{ p.bench }}</text>
      <text x="0" :y="y(row) + 45" class="small">{{ fitting(p.cutter ?? '', left + 10) }}</text>
      <rect
        v-for="b in p.breaks"
        :key="b.from"
        :x="x(b.from)"
        :y="y(row) + 1"
        :width="width(b)"
        :height="rowHigh - 2"
        class="pause"
      />
      <template v-for="s in p.slots" :key="s.piece.id">
        <rect
          v-if="s.clean_from < s.from"
          :x="x(s.clean_from)"
          :y="y(row) + 40"
          :width="x(s.from) - x(s.clean_from)"
          height="8"
          class="clean"
        />
        <RouterLink
          v-slot="{ href, navigate }"
          custom
          :to="s.piece.breakdown_id ? workplace(s.piece) : { name: 'plan', params: { piece: s.piece.id } }"
        >
          <a :href="href" :aria-label="slotName(s, clockOf)" :class="['slot', s.status]" @click="navigate">
            <title>{{ slotName(s, clockOf) }}</title>
            <rect :x="x(s.from)" :y="y(row) + 8" :width="width(s)" height="46" class="bar" />
            <rect
              v-if="s.saw_from && s.saw_to"
              :x="x(s.saw_from)"
              :y="y(row) + 42"
              :width="Math.max(2, x(s.saw_to) - x(s.saw_from))"
              height="12"
              fill="url(#on-saw)"
            />
            <text :x="x(s.from) + 5" :y="y(row) + 25" class="name">{{ fitting(s.piece.name, width(s)) }}</text>
            <text :x="x(s.from) + 5" :y="y(row) + 39" class="small">
              {{ fitting(s.orders[0] ?? `${s.piece.lot_number} / ${s.piece.number}`, width(s)) }}
            </text>
          </a>
        </RouterLink>
      </template>
    </g>
    <path :d="`M0 ${high - 24}H${wide}`" class="line" />
    <g v-for="o in dues" :key="o.number">
      <path :d="`M${x(o.due)} ${top}V${high - 20}`" :class="['due', { late: o.late }]" />
      <text :x="x(o.due)" :y="high - 6" class="small" :text-anchor="x(o.due) > wide - 120 ? 'end' : 'middle'">
        {{ o.number }}
      </text>
    </g>
    <path v-if="now" :d="`M${now} ${top - 4}V${high - 24}`" class="now" />
  </svg>
</template>

<style scoped>
.gantt {
  width: 100%;
  height: auto;
  display: block;
}
text {
  fill: var(--ink);
  font-size: 13px;
  font-variant-numeric: tabular-nums;
}
.small {
  fill: var(--ink-2);
  font-size: 12px;
}
.bench {
  font-size: 17px;
  font-weight: 700;
}
.hour {
  stroke: var(--hairline);
}
.line {
  stroke: var(--ink);
}
.pause {
  fill: var(--hairline);
  opacity: 0.6;
}
.bar {
  fill: var(--surface);
  stroke: var(--ink);
  stroke-width: 1.5;
}
.done .bar {
  fill: var(--hairline);
  stroke: var(--line);
}
.cutting .bar {
  stroke-width: 3.5;
}
.behind .bar {
  stroke: var(--act);
  stroke-width: 2.5;
}
.gone .bar {
  stroke-dasharray: 4 3;
}
.slot:hover .bar,
.slot:focus-visible .bar {
  fill: var(--act-wash);
}
.slot:focus-visible {
  outline: none;
}
.slot:focus-visible .bar {
  stroke: var(--act);
  stroke-width: 4;
}
.clean {
  fill: var(--ink-2);
}
.saw-ground {
  fill: var(--surface);
}
.saw-line {
  stroke: var(--ink);
  stroke-width: 2;
}
.due {
  stroke: var(--ink);
  stroke-width: 1.5;
  stroke-dasharray: 5 4;
}
.due.late {
  stroke: var(--act);
  stroke-width: 2.5;
}
.now {
  stroke: var(--act);
  stroke-width: 2;
}
@media (max-width: 700px) {
  .gantt {
    display: none;
  }
}
</style>
