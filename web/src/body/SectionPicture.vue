<script setup lang="ts">
// A cross-section: what lies in it, filled by how tender it is; of a half the other one is mirrored beside it.
import { computed, useId } from 'vue'
import type { S } from '../api/client'
import { lookOf } from './partLook'

const props = defineProps<{
  slice: S['BodySlice']
  parts: Map<string, S['BodyPart']>
  half: boolean
  /** Within which box in mm all sections of the piece lie: they are drawn at one scale. */
  box: { wide: number; low: number; high: number }
  picked?: string
}>()
const id = useId()
const edge = 3
/** The plane between two halves is the left edge of the drawn one. */
const plane = computed(() => (props.half ? -Math.min(...props.slice.outline.map((p) => p[0]!)) : 0))
const frame = computed(() => {
  const { wide, low, high } = props.box
  return `${-wide / 2 - edge} ${-high - edge} ${wide + 2 * edge} ${high - low + 2 * edge}`
})
const path = (ring: number[][]) =>
  ring.length ? `M${ring.map((p) => `${(p[0]! + plane.value).toFixed(1)} ${(-p[1]!).toFixed(1)}`).join('L')}Z` : ''
/** Letters are a twentieth of the widest section high. */
const letters = computed(() => props.box.wide / 20)
/** The centre of gravity of a ring. */
function centre(xs: number[], ys: number[]) {
  let [x, y, sum] = [0, 0, 0]
  xs.forEach((a, i) => {
    const j = (i + 1) % xs.length
    const w = a * ys[j]! - xs[j]! * ys[i]!
    x += (a + xs[j]!) * w
    y += (ys[i]! + ys[j]!) * w
    sum += w
  })
  return { x: x / (3 * sum), y: y / (3 * sum) }
}
const cells = computed(() =>
  props.slice.cells.map((c) => {
    const p = props.parts.get(c.part)
    const xs = c.ring.map((q) => q[0]! + plane.value)
    const ys = c.ring.map((q) => -q[1]!)
    const [left, right] = [Math.min(...xs), Math.max(...xs)]
    const [top, bottom] = [Math.min(...ys), Math.max(...ys)]
    return {
      part: c.part,
      d: path(c.ring),
      look: lookOf(p),
      name: p?.name ?? c.part,
      code: p?.code && right - left > 2.4 * letters.value && bottom - top > 1.6 * letters.value ? p.code : '',
      ...centre(xs, ys),
    }
  }),
)
const sides = computed(() => (props.half ? [1, -1] : [1]))
</script>

<template>
  <svg :viewBox="frame" aria-hidden="true" class="section">
    <defs>
      <pattern :id="`bone${id}`" width="5" height="5" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="5" height="5" class="bone-ground" />
        <path d="M0 0V5" class="bone-line" />
      </pattern>
      <pattern :id="`fat${id}`" width="6" height="6" patternUnits="userSpaceOnUse">
        <rect width="6" height="6" class="fat-ground" />
        <circle cx="3" cy="3" r="0.9" class="fat-dot" />
      </pattern>
    </defs>
    <g v-for="s in sides" :key="s" :transform="`scale(${s} 1)`">
      <path
        v-for="c in cells"
        :key="c.part"
        :d="c.d"
        :class="['cell', c.look, { picked: picked === c.part }]"
        :fill="c.look === 'bone' ? `url(#bone${id})` : c.look === 'fat' ? `url(#fat${id})` : undefined"
      >
        <title>{{ c.name }}</title>
      </path>
      <path :d="path(slice.outline)" class="rim" />
    </g>
    <text
      v-for="c in cells.filter((x) => x.code)"
      :key="c.part"
      :x="c.x"
      :y="c.y + letters / 3"
      :font-size="letters"
      :class="`on-${c.look}`"
    >
      {{ c.code }}
    </text>
  </svg>
</template>

<style scoped>
.section {
  width: 100%;
  display: block;
}
.cell {
  stroke: var(--ink);
  stroke-width: 0.9;
}
.cell.picked {
  stroke: var(--seam);
  stroke-width: 3.5;
}
.rim {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.8;
}
.below {
  fill: var(--g-below);
}
.t3 {
  fill: var(--g-3);
}
.t4 {
  fill: var(--g-4);
}
.t5 {
  fill: var(--g-5);
}
.waste {
  fill: var(--ground);
}
.trim {
  fill: var(--ghost);
}
.bone-ground {
  fill: var(--bone);
}
.bone-line {
  stroke: var(--bone-line);
  stroke-width: 1.6;
}
.fat-ground {
  fill: var(--fat);
}
.fat-dot {
  fill: var(--fat-line);
}
text {
  font-weight: 650;
  text-anchor: middle;
  fill: var(--g-below-ink);
}
.on-t4 {
  fill: var(--g-4-ink);
}
.on-t5 {
  fill: var(--g-5-ink);
}
</style>
