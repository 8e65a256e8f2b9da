<script setup lang="ts">
// The section of a piece: areas true to weight, seams in blue, bones dotted. What each area shows and whether it can be
// touched is the caller's.
import { computed, defineAsyncComponent, onBeforeUnmount, onMounted, ref, useId, useTemplateRef } from 'vue'
import { label, lineHeight } from './mapLabels'
import type { S } from '../api/client'

export interface MapMark {
  name: string
  code: string
  line?: string // a second line, such as a weight
  state?: 'next' | 'off' | 'plain' | 'waits'
}

const KeepPicture = defineAsyncComponent(() => import('../charts/KeepPicture.vue'))
defineOptions({ inheritAttrs: false })
const props = defineProps<{
  map: S['SeamMap']
  marks: Record<string, MapMark>
  pickable?: boolean
  picked?: string
  title: string
  size?: number
  keyed?: boolean // with a line below that says what its codes stand for
  file?: string // it can be kept as a picture under this name
}>()
const emit = defineEmits<{ pick: [string]; point: [string | undefined] }>()

type Area = S['MapArea']
const clip = useId()
const path = (a: Area) => `M${a.polygon.map((p) => `${p.x} ${p.y}`).join('L')}Z`

// Words are never smaller than eleven pixels, however small the map is drawn; what then does not fit is a code.
const smallest = 11
const drawing = useTemplateRef<SVGSVGElement>('drawing')
const unitPx = ref(0)
const watcher = new ResizeObserver(([e]) => (unitPx.value = (e?.contentRect.width ?? 0) / (props.map.width + 3)))
onMounted(() => drawing.value && watcher.observe(drawing.value))
onBeforeUnmount(() => watcher.disconnect())
const leastSize = computed(() => (unitPx.value ? smallest / unitPx.value : 0))
const textSize = computed(() => Math.max(props.size ?? 3.1, leastSize.value))

const areas = computed(() =>
  props.map.areas.map((a) => {
    const bone = a.kind === 'bone'
    const mark = props.marks[a.part] ?? { name: bone ? 'bone' : a.name, code: bone ? '' : a.part.slice(0, 3) }
    const words = label(a, mark, textSize.value, leastSize.value)
    return {
      id: a.part,
      bone,
      name: a.name,
      d: path(a),
      mark,
      centre: a.centre,
      ...words,
      top: a.centre.y - ((words.lines.length - 1) * words.size * lineHeight) / 2,
    }
  }),
)
/** What the codes stand for; what has no room even for one is named all the same. */
const key = computed(() =>
  areas.value
    .filter((a) => a.code && a.mark.code && !a.bone)
    .map(({ id, lines, mark: { code, name } }) => ({
      id,
      text: lines.length && !name.startsWith(code) ? `${code} ${name}` : name,
    })),
)
const outline = computed(() => `M${props.map.outline.map((p) => `${p.x} ${p.y}`).join('L')}Z`)
</script>

<template>
  <svg
    v-bind="$attrs"
    ref="drawing"
    class="seammap"
    :viewBox="`-1.5 -1.5 ${map.width + 3} ${map.height + 3}`"
    role="group"
    :aria-label="title"
  >
    <defs>
      <pattern id="ghost" width="2.4" height="2.4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M0 0V2.4" class="hatch" />
      </pattern>
      <pattern id="bone" width="1.8" height="1.8" patternUnits="userSpaceOnUse">
        <rect width="1.8" height="1.8" class="bonefill" />
        <circle cx=".9" cy=".9" r=".28" class="bonedot" />
      </pattern>
      <clipPath :id="clip"><path :d="outline" /></clipPath>
    </defs>
    <g
      v-for="a in areas"
      :key="a.id"
      :clip-path="`url(#${clip})`"
      class="area"
      :class="[a.mark.state ?? 'plain', { pickable: pickable && !a.bone, picked: picked === a.id }]"
      :role="pickable && !a.bone ? 'button' : 'img'"
      :tabindex="pickable && !a.bone ? 0 : undefined"
      :aria-label="`${a.bone ? a.name : a.mark.name}${a.mark.line ? `, ${a.mark.line}` : ''}`"
      :data-part="a.id"
      @click="pickable && !a.bone && emit('pick', a.id)"
      @pointerenter="emit('point', a.id)"
      @pointerleave="emit('point', undefined)"
      @keydown.space.prevent="pickable && !a.bone && emit('pick', a.id)"
    >
      <path class="flesh" :class="{ bone: a.bone }" :d="a.d" />
      <path v-if="a.mark.state === 'off'" :d="a.d" fill="url(#ghost)" />
    </g>
    <g :clip-path="`url(#${clip})`">
      <path v-for="(s, i) in map.seams" :key="i" class="seam" :d="`M${s.from.x} ${s.from.y}L${s.to.x} ${s.to.y}`" />
    </g>
    <path class="outline" :d="outline" />
    <path
      v-for="a in areas.filter((x) => x.mark.state === 'next' || picked === x.id)"
      :key="`n${a.id}`"
      class="glow"
      :clip-path="`url(#${clip})`"
      :d="a.d"
    />
    <g class="words" aria-hidden="true">
      <text
        v-for="a in areas"
        :key="a.id"
        :class="[a.mark.state, { bone: a.bone }]"
        text-anchor="middle"
        :font-size="a.size"
      >
        <tspan
          v-for="(l, i) in a.lines"
          :key="i"
          :x="a.centre.x"
          :y="a.top + i * a.size * lineHeight"
          dy=".35em"
          :class="{ second: l === a.mark.line }"
        >
          {{ l }}
        </tspan>
      </text>
    </g>
  </svg>
  <KeepPicture v-if="file" :of="() => drawing" :file="file" />
  <p v-if="keyed && key.length" class="small key">
    <span v-for="k in key" :key="k.id">{{ k.text }}</span>
  </p>
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
.key {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  margin: 6px 0 0;
}
</style>
