<script setup lang="ts">
// The block in the hand: a piece in space that is turned, pulled apart, taken off part by part and sawn anywhere; where
// the browser draws nothing in space, the slices beside it say the same.
import { computed, reactive, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import PvSlider from 'primevue/slider'
import { keyOf } from '../api/keys'
import StateNote from '../components/StateNote.vue'
import { data, GET } from '../api/client'
import { Problem } from '../api/problem'
import { useShop } from '../shell/shop'
import BlockCanvas from './BlockCanvas.vue'
import { lookOf } from './partLook'
import { say } from '../words/say'

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

const flat = ref(false)
const state = reactive({ apart: 0, taken: 0, sawMm: 0, picked: '' })
const order = computed(() => b.value?.order ?? [])
const gone = computed(() => new Set(order.value.slice(0, state.taken).flatMap((o) => o.parts)))
watch(b, () => Object.assign(state, { apart: 0, taken: 0, sawMm: 0, picked: '' }))
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
        <BlockCanvas
          v-if="b && !flat"
          :block="b"
          :gone="gone"
          :picked="state.picked"
          :apart="state.apart"
          :saw-mm="state.sawMm"
          @touch="pick"
          @flat="flat = true"
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
          ><span>{{ state.sawMm ? say`Sawn at ${state.sawMm} mm` : say('Saw it: not sawn') }}</span>
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
