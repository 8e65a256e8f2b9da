<script setup lang="ts">
// The section of a piece: areas true to weight, seams in blue, bones dotted. What each area shows and whether it can be
// touched is the caller's.
import { computed } from 'vue'
import { shortName } from '../shell/shop'
import type { S } from '../api/client'

export interface MapMark {
  name: string
  code: string
  line?: string // a second line, such as a weight
  state?: 'next' | 'off' | 'plain' | 'waits'
}

const props = defineProps<{
  map: S['SeamMap']
  marks: Record<string, MapMark>
  pickable?: boolean
  picked?: string
  title: string
  size?: number
}>()
const emit = defineEmits<{ pick: [string] }>()

type Area = S['MapArea']
const path = (a: Area) => `M${a.polygon.map((p) => `${p.x} ${p.y}`).join('L')}Z`
const lineLimit = 13
const textSize = computed(() => props.size ?? 3.1) // of the words, in units of the section

/** The words of a name on as few lines as fit, or its code where none do. */
function label(a: Area, m: MapMark): string[] {
  const lines: string[] = []
  for (const w of shortName(m.name).replace(/,.*/, '').split(' ')) {
    const last = lines[lines.length - 1]
    if (last !== undefined && `${last} ${w}`.length <= lineLimit) lines[lines.length - 1] = `${last} ${w}`
    else lines.push(w)
  }
  const all = lines.length + (m.line ? 1 : 0)
  const width = Math.max(...lines.map((l) => l.length)) * textSize.value * 0.52
  const fits = Math.hypot(width / 2, (all * textSize.value * 1.15) / 2) <= a.room * 1.25
  return fits ? lines : [m.code]
}

const areas = computed(() =>
  props.map.areas.map((a) => {
    const bone = a.kind === 'bone'
    const mark = props.marks[a.part] ?? { name: bone ? 'bone' : a.name, code: bone ? '' : a.part.slice(0, 3) }
    const lines = [...label(a, mark), ...(mark.line && a.room > textSize.value * 1.1 ? [mark.line] : [])]
    return {
      id: a.part,
      bone,
      name: a.name,
      d: path(a),
      mark,
      centre: a.centre,
      lines,
      top: a.centre.y - ((lines.length - 1) * textSize.value * 1.15) / 2,
    }
  }),
)
const outline = computed(() => `M${props.map.outline.map((p) => `${p.x} ${p.y}`).join('L')}Z`)
</script>

<template>
  <svg class="seammap" :viewBox="`-1.5 -1.5 ${map.width + 3} ${map.height + 3}`" role="group" :aria-label="title">
    <defs>
      <pattern id="ghost" width="2.4" height="2.4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M0 0V2.4" class="hatch" />
      </pattern>
      <pattern id="bone" width="1.8" height="1.8" patternUnits="userSpaceOnUse">
        <rect width="1.8" height="1.8" class="bonefill" />
        <circle cx=".9" cy=".9" r=".28" class="bonedot" />
      </pattern>
    </defs>
    <g
      v-for="a in areas"
      :key="a.id"
      class="area"
      :class="[a.mark.state ?? 'plain', { pickable: pickable && !a.bone, picked: picked === a.id }]"
      :role="pickable && !a.bone ? 'button' : 'img'"
      :tabindex="pickable && !a.bone ? 0 : undefined"
      :aria-label="`${a.bone ? a.name : a.mark.name}${a.mark.line ? `, ${a.mark.line}` : ''}`"
      :data-part="a.id"
      @click="pickable && !a.bone && emit('pick', a.id)"
      @keydown.space.prevent="pickable && !a.bone && emit('pick', a.id)"
    >
      <path class="flesh" :class="{ bone: a.bone }" :d="a.d" />
      <path v-if="a.mark.state === 'off'" :d="a.d" fill="url(#ghost)" />
    </g>
    <path v-for="s in map.seams" :key="s.a + s.b" class="seam" :d="`M${s.from.x} ${s.from.y}L${s.to.x} ${s.to.y}`" />
    <path class="outline" :d="outline" />
    <path
      v-for="a in areas.filter((x) => x.mark.state === 'next' || picked === x.id)"
      :key="`n${a.id}`"
      class="glow"
      :d="a.d"
    />
    <g class="words" aria-hidden="true">
      <text
        v-for="a in areas"
        :key="a.id"
        :class="[a.mark.state, { bone: a.bone }]"
        text-anchor="middle"
        :font-size="textSize"
      >
        <tspan
          v-for="(l, i) in a.lines"
          :key="i"
          :x="a.centre.x"
          :y="a.top + i * textSize * 1.15"
          dy=".35em"
          :class="{ second: l === a.mark.line }"
        >
          {{ l }}
        </tspan>
      </text>
    </g>
  </svg>
</template>

<style scoped>
.seammap {
  display: block;
  width: 100%;
  height: auto;
  max-height: 100%;
  user-select: none;
}
.flesh {
  fill: var(--surface);
}
.flesh.bone {
  fill: url(#bone);
}
.bonefill {
  fill: var(--bone);
}
.bonedot {
  fill: var(--bone-line);
}
.area.pickable {
  cursor: pointer;
}
.area:focus-visible {
  outline: none;
}
.area:focus-visible .flesh,
.area.pickable:hover .flesh {
  fill: var(--act-wash);
}
.area.next .flesh,
.area.picked .flesh {
  fill: var(--act-wash);
}
.area.off .flesh {
  fill: var(--ghost);
}
.hatch {
  stroke: var(--hairline);
  stroke-width: 0.5;
}
.seam {
  stroke: var(--seam);
  stroke-width: 0.55;
  stroke-linecap: round;
  fill: none;
  pointer-events: none;
}
.outline {
  stroke: var(--ink);
  stroke-width: 0.6;
  fill: none;
  pointer-events: none;
}
.glow {
  stroke: var(--act);
  stroke-width: 1.1;
  fill: none;
  stroke-linejoin: round;
  pointer-events: none;
}
.words {
  pointer-events: none;
}
text {
  fill: var(--ink);
  font-weight: 650;
  font-stretch: 84%;
}
text.bone,
text.off,
text.waits {
  fill: var(--ink-2);
  font-weight: 500;
}
.second {
  font-weight: 500;
}
</style>
