<script setup lang="ts">
// The block in the hand: a piece in space that is turned, pulled apart, taken off part by part and sawn anywhere; where
// the browser draws nothing in space, the slices beside it say the same.
import { computed, onBeforeUnmount, onMounted, reactive, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import PvSlider from 'primevue/slider'
import { keyOf } from '../api/keys'
import StateNote from '../components/StateNote.vue'
import { data, GET } from '../api/client'
import { Problem } from '../api/problem'
import { useShop } from '../shell/shop'
import type { Block } from './blockScene'
import { colourOf, lookOf } from './partLook'

const props = defineProps<{ piece: string; plan?: string }>()
const { mass } = useShop()
const {
  data: b,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('block', props.piece, props.plan ?? '')),
  queryFn: () =>
    data(
      GET('/atlas/pieces/{atlas_id}/block', {
        params: { path: { atlas_id: props.piece }, query: props.plan ? { plan_id: props.plan } : {} },
      }),
    ),
  staleTime: Infinity,
  retry: false,
})
const none = computed(() => error.value instanceof Problem && error.value.status === 409)
const parts = computed(() => new Map(b.value?.parts.map((p) => [p.id, p]) ?? []))
const name = (id: string) => parts.value.get(id)?.name ?? id

const canvas = useTemplateRef<HTMLCanvasElement>('canvas')
const scene = shallowRef<Block>()
const flat = ref(false)
const state = reactive({ apart: 0, taken: 0, sawMm: 0, picked: '', moving: false })
const order = computed(() => b.value?.order ?? [])
const gone = computed(() => new Set(order.value.slice(0, state.taken).flatMap((o) => o.parts)))
const drawn = ref(0)

function looks() {
  const css = getComputedStyle(canvas.value!)
  const v = (token: string) => css.getPropertyValue(token).trim()
  const part = (id: string) => v(colourOf[lookOf(parts.value.get(id))]!)
  return { part, ground: v('--surface'), picked: v('--seam'), ink: v('--ink') }
}
function show() {
  scene.value?.show({
    apart: state.apart / 100,
    gone: gone.value,
    picked: state.picked,
    sawMm: state.sawMm,
    coarse: state.moving,
  })
  drawn.value = scene.value?.frames() ?? 0
}
/** While it moves it is drawn coarser; a little after, whole again. */
let rest: ReturnType<typeof setTimeout> | undefined
function moves(how: () => void) {
  clearTimeout(rest)
  if (!state.moving) {
    state.moving = true
    show()
  }
  how()
  rest = setTimeout(() => {
    state.moving = false
    show()
  }, 200)
}
watch(() => [state.apart, state.sawMm, state.taken, state.picked], show)

function fit() {
  const box = canvas.value
  if (box?.clientWidth && scene.value) scene.value.size(box.clientWidth, box.clientHeight)
  drawn.value = scene.value?.frames() ?? 0
}
const wide = new ResizeObserver(fit)
const scheme = new MutationObserver(() => scene.value?.look(looks()))
let ended = false
async function begin() {
  if (!b.value || !canvas.value || scene.value || flat.value) return
  const { setUp } = await import('./blockScene')
  if (ended || scene.value || !canvas.value) return
  scene.value = setUp(canvas.value, b.value, looks())
  flat.value = !scene.value
  fit()
  show()
}
function stop() {
  scene.value?.end()
  scene.value = undefined
}
watch(b, () => {
  stop()
  Object.assign(state, { apart: 0, taken: 0, sawMm: 0, picked: '' })
})
watch([b, canvas], () => void begin(), { flush: 'post' })
onMounted(() => {
  scheme.observe(document.documentElement, { attributeFilter: ['data-scheme'] })
})
watch(canvas, (c) => {
  wide.disconnect()
  if (c) wide.observe(c)
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
    state.picked = hit && hit !== state.picked ? hit : ''
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
const here = computed(() => parts.value.get(state.picked))
const pick = (id: string) => (state.picked = state.picked === id ? '' : id)
const next = computed(() => order.value[state.taken])
</script>

<template>
  <section v-if="!none" class="block no-print" aria-labelledby="in-hand" data-test="block">
    <h2 id="in-hand">The block in the hand</h2>
    <StateNote :error="error" :loading="isLoading" what="the block" @retry="refetch()" />
    <p v-if="flat" class="small" data-test="flat">
      This browser draws nothing in space. The slices below show the same, one after the other.
    </p>
    <div v-show="b && !flat" class="lay">
      <div class="picture">
        <canvas
          ref="canvas"
          tabindex="0"
          role="img"
          :aria-label="`${b?.name ?? ''} in space; arrow keys turn it, plus and minus bring it nearer`"
          :data-frames="drawn"
          :data-taken="gone.size"
          @pointerdown="down"
          @pointermove="drag"
          @pointerup="up"
          @pointercancel="from = undefined"
          @keydown="key"
        />
        <p class="small">
          Drag to turn it, touch a part to read it. From the {{ b?.from }}, nearest, to the {{ b?.to }}.
        </p>
      </div>
      <div v-if="b" class="hand">
        <label class="slide"
          >Pull apart
          <PvSlider v-model="state.apart" :min="0" :max="100" :step="5" aria-label="Pull apart, percent" />
        </label>
        <label class="slide"
          ><span>{{ state.sawMm ? `Sawn at ${state.sawMm} mm` : 'Saw it: not sawn' }}</span>
          <PvSlider
            v-model="state.sawMm"
            :min="0"
            :max="Math.floor(b.length_mm) - 5"
            :step="5"
            aria-label="Where it is sawn, in millimetres"
          />
        </label>
        <div class="row">
          <PvButton
            severity="secondary"
            label="Take off"
            :disabled="state.taken >= order.length - 1"
            data-test="take"
            @click="state.taken++"
          /><PvButton
            severity="secondary"
            label="Put back"
            :disabled="!state.taken"
            data-test="put-back"
            @click="state.taken--"
          />
        </div>
        <p class="next" aria-live="polite">
          <template v-if="state.taken">{{ state.taken }} of {{ order.length - 1 }} off. </template
          ><template v-if="next && state.taken < order.length - 1">Next: {{ next.name }}.</template>
        </p>
        <div v-if="here" class="read" aria-live="polite" data-test="read">
          <strong>{{ here.name }}</strong>, {{ mass(here.g, 2)
          }}<template v-if="here.kind === 'muscle'">, tenderness {{ here.tenderness }} of 5</template
          ><template v-if="here.from_mm !== undefined"
            >, from {{ Math.round(here.from_mm) }} to {{ Math.round(here.to_mm ?? 0) }} mm</template
          >.
        </div>
        <ul class="parts">
          <li v-for="t in b.tubes" :key="t.part">
            <button
              type="button"
              :aria-pressed="state.picked === t.part"
              :disabled="gone.has(t.part)"
              @click="pick(t.part)"
            >
              <span class="swatch" :class="lookOf(parts.get(t.part))" />{{ name(t.part) }}
            </button>
          </li>
        </ul>
      </div>
    </div>
  </section>
</template>

<style scoped>
.block {
  margin-top: 28px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 300px;
  gap: 12px 28px;
  align-items: start;
}
.picture {
  min-width: 0;
}
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
.hand {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.slide {
  display: flex;
  flex-direction: column;
  gap: 22px;
  padding: 0 18px 18px;
}
.next,
.read {
  min-height: 22px;
  margin: 0;
}
.parts {
  list-style: none;
  margin: 0;
  padding: 0;
  columns: 2;
}
.parts button {
  display: flex;
  align-items: center;
  gap: 8px;
  width: 100%;
  min-height: 44px;
  padding: 4px;
  border: 1px solid transparent;
  border-radius: 2px;
  background: none;
  color: var(--ink);
  text-align: left;
  cursor: pointer;
}
.parts button[aria-pressed='true'] {
  border-color: var(--ink);
}
.parts button:disabled {
  color: var(--ink-2);
  text-decoration: line-through;
  cursor: default;
}
.swatch {
  width: 14px;
  height: 14px;
  flex: none;
  border: 1px solid var(--ink);
}
.below {
  background: var(--g-below);
}
.t3 {
  background: var(--g-3);
}
.t4 {
  background: var(--g-4);
}
.t5 {
  background: var(--g-5);
}
.fat {
  background: var(--fat);
}
.bone {
  background: var(--bone);
}
.trim {
  background: var(--ghost);
}
@media (max-width: 900px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
