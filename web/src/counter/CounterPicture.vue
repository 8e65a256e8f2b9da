<script setup lang="ts">
// The counter from above, as the customer stands before it: trays where they stand, true to size in centimetres.
import { computed } from 'vue'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { say } from '../words/say'

const props = defineProps<{ view: S['CounterView'] }>()
const { money } = useShop()
const room = computed(() => props.view.room)
const ruler = 9
/** The customer's side is below. */
const trays = computed(() =>
  props.view.trays.map((t) => {
    const things = t.things.map((x) => x.menu_name ?? x.name)
    return {
      ...t,
      y: room.value.depth_cm - t.y_cm - room.value.tray_deep_cm,
      lines: things.flatMap((n, k) => [...(k ? ['·'] : []), ...broken(n)]).slice(0, 6),
      price: t.things[0]?.price ? `${money(t.things[0].price)}/${t.things[0].price_per}` : '',
      says: t.things
        .map((x) => `${x.menu_name ?? x.name}, ${x.species}${x.turned ? say(', half of the stack turned') : ''}`)
        .join('; '),
    }
  }),
)
const letters = 3.1
/** A name in lines that a tray is wide enough for. */
function broken(name: string): string[] {
  const most = Math.max(6, Math.floor((room.value.tray_wide_cm - 3) / (letters * 0.54)))
  const out: string[] = []
  for (const word of name.split(' ')) {
    const last = out[out.length - 1]
    if (last !== undefined && `${last} ${word}`.length <= most) out[out.length - 1] = `${last} ${word}`
    else out.push(word.length > most ? `${word.slice(0, most - 1)}…` : word)
  }
  return out.slice(0, 4)
}
const marks = computed(() => Array.from({ length: Math.floor(room.value.length_cm / 50) + 1 }, (_, i) => i * 50))
/** Slices as they lie: a row of strokes that lean one way, or half of them the other. */
function strokes(turned: boolean): string {
  const { tray_wide_cm: w } = room.value
  const out: string[] = []
  const n = 7
  for (let i = 0; i < n; i++) {
    const x = 3 + ((w - 6) * i) / (n - 1)
    const lean = turned && i >= n / 2 ? -1.6 : 1.6
    out.push(`M${x - lean / 2} 2.2 l${lean} 5.4`)
  }
  return out.join(' ')
}
</script>

<template>
  <figure class="counter">
    <div v-wide class="scroll">
      <svg
        :viewBox="`-2 -2 ${room.length_cm + 4} ${room.depth_cm + ruler + 6}`"
        role="img"
        :aria-label="say`The counter from above: ${trays.map((t) => t.says).join('. ')}`"
        data-test="counter-picture"
      >
        <defs>
          <pattern
            id="counter-bone"
            width="2.4"
            height="2.4"
            patternUnits="userSpaceOnUse"
            patternTransform="rotate(45)"
          >
            <path d="M0 0 V2.4" class="bone" />
          </pattern>
        </defs>
        <rect class="glass" :width="room.length_cm" :height="room.depth_cm" />
        <g v-for="(t, i) in trays" :key="i" :transform="`translate(${t.x_cm} ${t.y})`" class="tray">
          <title>{{ t.says }}</title>
          <rect
            x="0.6"
            y="0.6"
            :width="room.tray_wide_cm - 1.2"
            :height="room.tray_deep_cm - 1.2"
            :class="{ lamb: t.things[0]?.species === 'lamb' }"
          />
          <rect
            v-if="t.things[0]?.bony"
            x="0.6"
            y="0.6"
            :width="room.tray_wide_cm - 1.2"
            height="9"
            fill="url(#counter-bone)"
          />
          <path class="slices" :d="strokes(!!t.things[t.things.length - 1]?.turned)" />
          <text v-for="(l, k) in t.lines" :key="k" x="2.4" :y="14 + k * 4.2">{{ l }}</text>
          <text v-if="t.price" class="price" x="2.4" :y="room.tray_deep_cm - 3.4">{{ t.price }}</text>
        </g>
        <path class="edge" :d="`M0 ${room.depth_cm} H${room.length_cm}`" />
        <g class="ruler" :transform="`translate(0 ${room.depth_cm + 3})`">
          <path :d="`M0 0 H${room.length_cm} ${marks.map((m) => `M${m} 0 v2`).join(' ')}`" />
          <text
            v-for="m in marks"
            :key="m"
            :x="m"
            y="6"
            :text-anchor="m === 0 ? 'start' : m < room.length_cm ? 'middle' : 'end'"
          >
            {{ m }}
          </text>
        </g>
      </svg>
    </div>
    <figcaption class="small">
      From above, the customer stands below; centimetres. Strokes are slices: where they turn, half of the stack is
      turned. Hatched holds bone; a thick edge is lamb.
    </figcaption>
  </figure>
</template>

<style scoped>
.counter {
  margin: 12px 0 0;
}
.scroll {
  overflow-x: auto;
}
svg {
  width: 100%;
  min-width: 620px;
  display: block;
}
.glass {
  fill: none;
  stroke: var(--line);
  stroke-width: 0.5;
}
.tray rect:first-of-type {
  fill: var(--surface);
  stroke: var(--ink);
  stroke-width: 0.35;
}
.tray rect.lamb {
  stroke-width: 1.1;
}
.slices {
  stroke: var(--ink-2);
  stroke-width: 0.5;
  fill: none;
}
.bone {
  stroke: var(--ink-2);
  stroke-width: 0.4;
}
.edge {
  stroke: var(--ink);
  stroke-width: 1.2;
}
.ruler path {
  stroke: var(--ink-2);
  stroke-width: 0.3;
  fill: none;
}
text {
  font-size: 3.1px;
  fill: var(--ink);
}
.price {
  font-weight: 700;
}
.ruler text {
  fill: var(--ink-2);
}
</style>
