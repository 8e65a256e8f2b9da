<script setup lang="ts">
// Where lines cross, what is best depends on the method: a line for each muscle, from method to method.
import { computed, useTemplateRef } from 'vue'
import KeepPicture from '../charts/KeepPicture.vue'
import type { S } from '../api/client'
import { apart } from '../components/apart'
import { shortName } from '../words/shown'

const props = defineProps<{ samples: S['Sample'][] }>()
const methods = computed(() => [
  ...new Map(props.samples.filter((s) => s.result).map((s) => [s.method, s.method_name])).entries(),
])
const lines = computed(() => {
  const out = new Map<string, { name: string; points: { x: number; y: number; score: number; method: string }[] }>()
  for (const s of props.samples) {
    if (!s.result) continue
    const key = `${s.atlas_id} ${s.part}`
    const line = out.get(key) ?? { name: shortName(s.muscle), points: [] }
    line.points.push({
      x: x(methods.value.findIndex(([id]) => id === s.method)),
      y: y(s.result.score),
      score: s.result.score,
      method: s.method_name,
    })
    line.points.sort((a, b) => a.x - b.x)
    out.set(key, line)
  }
  return apart([...out.values()].map((l) => ({ ...l, label: l.points.at(-1)!.y })))
})
const scores = computed(() => props.samples.flatMap((s) => (s.result ? [s.result.score] : [])))
const least = computed(() => Math.max(0, Math.min(...scores.value, 46.5) - 6))
const most = computed(() => Math.min(100, Math.max(...scores.value, 76) + 6))
const width = 300
const height = 260
const x = (i: number) => (methods.value.length < 2 ? width / 2 : 34 + (i * (width - 110)) / (methods.value.length - 1))
const y = (score: number) => 16 + ((most.value - score) * (height - 46)) / (most.value - least.value)
const cuts = [
  { at: 46.5, name: '3' },
  { at: 64, name: '4' },
  { at: 76, name: '5' },
]
const drawing = useTemplateRef<SVGSVGElement>('drawing')
const dashes = ['', '6 3', '2 3', '10 3 2 3', '1 4', '8 2']
</script>

<template>
  <figure v-if="lines.length" class="plot">
    <svg
      ref="drawing"
      :viewBox="`0 0 ${width} ${height}`"
      role="group"
      :aria-label="lines.map((l) => `${l.name}: ${l.points.map((p) => p.score.toFixed(0)).join(', ')}`).join('; ')"
    >
      <g v-for="c in cuts" :key="c.name">
        <line class="cut" x1="26" :x2="width" :y1="y(c.at)" :y2="y(c.at)" />
        <text x="0" :y="y(c.at) + 4" class="axis">{{ c.at }}</text>
      </g>
      <text v-for="([id, name], i) in methods" :key="id" class="axis" text-anchor="middle" :x="x(i)" :y="height - 6">
        {{ name }}
      </text>
      <g v-for="(l, i) in lines" :key="l.name + i">
        <polyline
          class="line"
          :stroke-dasharray="dashes[i % dashes.length]"
          :points="l.points.map((p) => `${p.x},${p.y}`).join(' ')"
        />
        <circle
          v-for="p in l.points"
          :key="p.x"
          class="dot"
          tabindex="0"
          role="img"
          :aria-label="`${l.name}, ${p.method}: ${p.score.toFixed(0)}`"
          :cx="p.x"
          :cy="p.y"
          r="4"
        >
          <title>{{ l.name }}, {{ p.method }}: {{ p.score.toFixed(0) }}</title>
        </circle>
        <text class="name" :x="l.points.at(-1)!.x + 8" :y="l.label + 4">{{ l.name }}</text>
      </g>
    </svg>
    <figcaption class="small">
      Lines that cross: which muscle is best depends on how it is cooked. Level lines are the grades’ lower edges.
    </figcaption>
    <KeepPicture :of="() => drawing" file="by-method" />
  </figure>
</template>

<style scoped>
.plot {
  margin: 0;
}
.cut {
  stroke: var(--hairline);
}
.axis {
  font-size: 11px;
  fill: var(--ink-2);
}
.name {
  font-size: 12px;
  font-weight: 650;
  fill: var(--ink);
  font-stretch: 84%;
}
.line {
  fill: none;
  stroke: var(--act);
  stroke-width: 2;
}
.dot {
  fill: var(--act);
}
</style>
