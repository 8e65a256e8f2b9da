<script setup lang="ts">
// The canvas on which a piece is drawn in space: it is turned by drag and by keys, and a part of it is touched.
import { onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import type { S } from '../api/client'
import type { Block } from './blockScene'
import { colourOf, lookOf } from './partLook'
import { say } from '../words/say'

const props = defineProps<{
  block: S['Block3D']
  gone: Set<string>
  picked: string
  /** How far it is pulled apart, 0 to 100. */
  apart?: number
  sawMm?: number
}>()
const emit = defineEmits<{ touch: [string]; flat: [] }>()
const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const scene = shallowRef<Block>()
const moving = ref(false)
const drawn = ref(0)

function looks() {
  const css = getComputedStyle(canvas.value!)
  const v = (token: string) => css.getPropertyValue(token).trim()
  const of = (id: string) => props.block.parts.find((p) => p.id === id)
  const part = (id: string) => v(colourOf[lookOf(of(id))]!)
  return { part, ground: v('--surface'), picked: v('--seam'), ink: v('--ink') }
}
function show() {
  scene.value?.show({
    apart: (props.apart ?? 0) / 100,
    gone: props.gone,
    picked: props.picked,
    sawMm: props.sawMm ?? 0,
    coarse: moving.value,
  })
  drawn.value = scene.value?.frames() ?? 0
}
/** While it moves it is drawn coarser; a little after, whole again. */
let rest: ReturnType<typeof setTimeout> | undefined
function moves(how: () => void) {
  clearTimeout(rest)
  if (!moving.value) {
    moving.value = true
    show()
  }
  how()
  rest = setTimeout(() => {
    moving.value = false
    show()
  }, 200)
}
watch(() => [props.apart, props.sawMm, props.gone, props.picked], show)

function fit() {
  const box = canvas.value
  if (box?.clientWidth && scene.value) scene.value.size(box.clientWidth, box.clientHeight)
  drawn.value = scene.value?.frames() ?? 0
}
const wide = new ResizeObserver(fit)
const scheme = new MutationObserver(() => scene.value?.look(looks()))
let ended = false
async function begin() {
  if (!canvas.value || scene.value) return
  const { setUp } = await import('./blockScene')
  if (ended || scene.value || !canvas.value) return
  scene.value = setUp(canvas.value, props.block, looks())
  if (!scene.value) return emit('flat')
  fit()
  show()
}
function stop() {
  scene.value?.end()
  scene.value = undefined
}
watch(
  () => props.block,
  () => {
    stop()
    void begin()
  },
)
onMounted(() => {
  scheme.observe(document.documentElement, { attributeFilter: ['data-scheme'] })
  wide.observe(canvas.value!)
  void begin()
})
onBeforeUnmount(() => {
  ended = true
  wide.disconnect()
  scheme.disconnect()
  clearTimeout(rest)
  stop()
})

let from: { x: number; y: number; moved: boolean } | undefined
function down(e: PointerEvent) {
  from = { x: e.clientX, y: e.clientY, moved: false }
  canvas.value!.setPointerCapture(e.pointerId)
}
function drag(e: PointerEvent) {
  if (!from || !scene.value) return
  const [dx, dy] = [e.clientX - from.x, e.clientY - from.y]
  if (!from.moved && Math.hypot(dx, dy) < 5) return
  from = { x: e.clientX, y: e.clientY, moved: true }
  moves(() => scene.value!.turn(dx / 120, dy / 120))
}
function up(e: PointerEvent) {
  if (from && !from.moved && scene.value) {
    const box = canvas.value!.getBoundingClientRect()
    const at = (v: number, low: number, size: number) => (2 * (v - low)) / size - 1
    const hit = scene.value.at(at(e.clientX, box.left, box.width), -at(e.clientY, box.top, box.height))
    emit('touch', hit ?? '')
  }
  from = undefined
}
const step = 0.16
const keys: Record<string, () => void> = {
  ArrowLeft: () => scene.value!.turn(-step, 0),
  ArrowRight: () => scene.value!.turn(step, 0),
  ArrowUp: () => scene.value!.turn(0, -step),
  ArrowDown: () => scene.value!.turn(0, step),
  '+': () => scene.value!.zoom(1.15),
  '-': () => scene.value!.zoom(1 / 1.15),
}
function key(e: KeyboardEvent) {
  const act = keys[e.key]
  if (!act || !scene.value) return
  e.preventDefault()
  moves(act)
}
</script>

<template>
  <canvas
    ref="canvas"
    tabindex="0"
    role="img"
    :aria-label="say`${block.name} in space; arrow keys turn it, plus and minus bring it nearer`"
    :data-frames="drawn"
    :data-taken="gone.size"
    @pointerdown="down"
    @pointermove="drag"
    @pointerup="up"
    @pointercancel="from = undefined"
    @keydown="key"
  />
</template>

<style scoped>
canvas {
  display: block;
  width: 100%;
  aspect-ratio: 17 / 10;
  touch-action: pan-y;
  cursor: grab;
  outline: 1px solid var(--hairline);
}
canvas:focus-visible {
  outline: 3px solid var(--act);
  outline-offset: 2px;
}
</style>
