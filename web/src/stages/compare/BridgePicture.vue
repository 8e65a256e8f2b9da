<script setup lang="ts">
// The bridge by muscle: which muscle pays for the work. Gains rise in ox-blood, losses fall hatched; it reads without
// colour.
import { computed, useTemplateRef } from 'vue'
import KeepPicture from '../../charts/KeepPicture.vue'
import type { S } from '../../api/client'
import { useShop } from '../../shell/shop'
import { bars, extent, ticks } from './bridge'
import { say } from '../../words/say'

const props = defineProps<{
  steps: S['BridgeStep'][]
  from: S['PlanForecast']
  to: S['PlanForecast']
  names?: [string, string]
}>()
/** A muscle's step is pointed at or has the focus. */
const emit = defineEmits<{ point: [string | undefined] }>()
const { money } = useShop()
const W = 840
const H = 330
const top = 8
const foot = 52

const way = (p: S['PlanForecast']) => (p.plan.cut === 'seams' ? say('Seamed') : say('Straight'))
/** Seamed and straight, or what the plans are called where both are the one or the other. */
const called = computed<[string, string]>(() => {
  if (props.names) return props.names
  if (way(props.from) !== way(props.to)) return [way(props.from), way(props.to)]
  return [props.from.plan.short, props.to.plan.short]
})
const drawing = useTemplateRef<SVGSVGElement>('drawing')
const all = computed(() =>
  bars(props.steps, Number(props.from.totals.value), Number(props.to.totals.value), called.value),
)
const range = computed(() => extent(all.value))
const y = (v: number) => top + ((range.value.high - v) / (range.value.high - range.value.low)) * (H - top - foot)
const left = 68 // room for the values of the axis
const slot = computed(() => (W - left) / all.value.length)
const marks = computed(() => ticks(range.value.low, range.value.high).map((v) => ({ v, y: y(v), text: money(v) })))
const drawn = computed(() =>
  all.value.map((b, i) => {
    const base = b.kind === 'total' ? Math.max(range.value.low, Math.min(0, b.to)) : b.from
    const [a, z] = [y(Math.max(base, b.to)), y(Math.min(base, b.to))]
    return {
      ...b,
      x: left + i * slot.value + 5,
      w: slot.value - 10,
      top: a,
      h: Math.max(1, z - a),
      end: y(b.to),
      words: lines(b.name),
      text: b.kind === 'total' ? money(b.change) : money(b.change, true),
    }
  }),
)

function lines(name: string): string[] {
  const out: string[] = []
  for (const w of name.split(' ')) {
    const last = out[out.length - 1]
    if (last !== undefined && `${last} ${w}`.length <= 11) out[out.length - 1] = `${last} ${w}`
    else out.push(w)
  }
  return out.slice(0, 3)
}
const spoken = computed(() => all.value.map((b) => `${b.name} ${money(b.change, b.kind !== 'total')}`).join(', '))
</script>

<template>
  <figure v-wide class="bridge">
    <figcaption class="label">
      From “{{ called[0] }}” to “{{ called[1] }}”, muscle by muscle: value of the piece after all costs
    </figcaption>
    <svg ref="drawing" :viewBox="`0 0 ${W} ${H}`" role="group" :aria-label="spoken">
      <defs>
        <pattern id="down" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="7" height="7" class="paper" />
          <path d="M0 0V7" class="line" />
        </pattern>
      </defs>
      <g v-for="m in marks" :key="m.v" aria-hidden="true">
        <line :x1="left" :x2="W" :y1="m.y" :y2="m.y" class="grid" />
        <text :x="left - 8" :y="m.y + 4" class="axis">{{ m.text }}</text>
      </g>
      <line v-if="range.low <= 0" :x1="left" :x2="W" :y1="y(0)" :y2="y(0)" class="zero" />
      <g
        v-for="(b, i) in drawn"
        :key="b.id"
        class="bar"
        tabindex="0"
        role="img"
        :aria-label="`${b.name}: ${b.text}`"
        @focus="emit('point', b.id)"
        @blur="emit('point', undefined)"
        @pointerenter="emit('point', b.id)"
        @pointerleave="emit('point', undefined)"
      >
        <rect
          :x="b.x"
          :y="b.top"
          :width="b.w"
          :height="b.h"
          :class="b.kind === 'total' ? 'total' : b.change > 0 ? 'gain' : 'drop'"
        />
        <line v-if="i < drawn.length - 1" :x1="b.x + b.w" :x2="b.x + b.w + 10" :y1="b.end" :y2="b.end" class="step" />
        <text :x="b.x + b.w / 2" :y="b.top - 6" class="value">{{ b.text }}</text>
        <text v-for="(l, k) in b.words" :key="k" :x="b.x + b.w / 2" :y="H - foot + 18 + k * 15" class="name">
          {{ l }}
        </text>
      </g>
      <g v-if="range.cut">
        <path
          v-for="b in [drawn[0]!, drawn[drawn.length - 1]!]"
          :key="b.id"
          :d="`M${b.x - 3} ${H - foot - 10}l${b.w / 4 + 2} -6 ${b.w / 4} 6 ${b.w / 4} -6 ${b.w / 4 + 4} 6`"
          class="cut"
        />
      </g>
    </svg>
    <details v-if="all.some((b) => b.id === 'rest')" class="small">
      <summary>Every step</summary>
      <table v-wide>
        <thead>
          <tr>
            <th>What</th>
            <th class="n">{{ called[0] }}</th>
            <th class="n">{{ called[1] }}</th>
            <th class="n">Change</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in steps" :key="s.id">
            <td>{{ s.name }}</td>
            <td class="n">{{ money(s.from) }}</td>
            <td class="n">{{ money(s.to) }}</td>
            <td class="n">{{ money(s.change, true) }}</td>
          </tr>
        </tbody>
      </table>
    </details>
    <KeepPicture :of="() => drawing" file="bridge" />
    <p v-if="range.cut" class="small">The two totals are cut off at the wavy line.</p>
  </figure>
</template>

<style scoped>
summary {
  cursor: pointer;
  min-height: 32px;
  padding-top: 6px;
}
.bridge {
  margin: 0;
}
svg {
  width: 100%;
  height: auto;
  display: block;
}
.total {
  fill: var(--ink);
}
.gain {
  fill: var(--act);
}
.drop {
  fill: url(#down);
  stroke: var(--ink);
  stroke-width: 1;
}
.paper {
  fill: var(--surface);
}
.line {
  stroke: var(--ink);
  stroke-width: 1.6;
}
.zero {
  stroke: var(--ink);
  stroke-width: 1;
}
.step {
  stroke: var(--ink-2);
  stroke-width: 1;
}
.cut {
  stroke: var(--ground);
  stroke-width: 4;
  fill: none;
}
text {
  text-anchor: middle;
  fill: var(--ink);
}
.grid {
  stroke: var(--hairline);
  stroke-width: 1;
}
.axis {
  text-anchor: end;
  font-size: 12px;
  fill: var(--ink-2);
}
.bar:focus-visible {
  outline: 3px solid var(--act);
  outline-offset: 2px;
}
.value {
  font-size: 15px;
  font-weight: 700;
  font-stretch: 86%;
}
.name {
  font-size: 13px;
  font-stretch: 82%;
}
</style>
