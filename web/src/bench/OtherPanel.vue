<script setup lang="ts">
// What was done otherwise than the plan says: several parts left together, or something else was made of a block. The
// weight is the one on the plate.
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import PickOne from '../components/PickOne.vue'
import type { S } from '../api/client'
import { shortName } from '../words/shown'
import { say } from '../words/say'

const props = defineProps<{
  board: S['Board']
  /** Parts that were touched, on the map or here. */
  chosen: string[]
  canBook: boolean
}>()
const emit = defineEmits<{
  toggle: [string]
  block: [{ node: string; holds: Record<string, number>; name: string }]
  product: [{ node: string; product: string; count?: number }]
  back: []
}>()
const root = useTemplateRef<HTMLElement>('root')
onMounted(() => void nextTick(() => root.value?.querySelector('button')?.focus()))

const piece = 'piece'
const from = ref(piece)
const product = ref('')
const count = ref('')
/** Blocks that are still on the table, and the piece itself. */
const blocks = computed(() => [
  { id: piece, name: say('the piece') },
  ...props.board.rows
    .filter((r) => !r.closed && !r.joined && (r.kind === 'parted' || r.kind === 'seamed_off'))
    .map((r) => ({ id: r.event_id, name: shortName(r.name) })),
])
const held = computed<Record<string, number>>(() => {
  const row = props.board.rows.find((r) => r.event_id === from.value)
  if (!row) return props.board.holds
  return row.holds ?? { [row.id]: 100 }
})
const node = computed(() => (from.value === piece ? '' : from.value))
const parts = computed(() => (props.board.fixed?.parts ?? []).filter((p) => (held.value[p.id] ?? 0) > 0))
const chosenHere = computed(() => props.chosen.filter((id) => (held.value[id] ?? 0) > 0))
const name = computed(() =>
  parts.value
    .filter((p) => chosenHere.value.includes(p.id))
    .map((p) => shortName(p.name))
    .join(say(' with ')),
)
function bookBlock() {
  const holds = Object.fromEntries(chosenHere.value.map((id) => [id, held.value[id]!]))
  emit('block', { node: node.value, holds, name: name.value })
}
function bookProduct() {
  const n = Number(count.value)
  emit('product', { node: node.value, product: product.value, ...(n > 0 && { count: n }) })
}
const why = computed(() => (props.canBook ? '' : say('Lay it on the scale, or type its weight, first.')))
</script>

<template>
  <div
    ref="root"
    class="other"
    role="group"
    aria-label="Done otherwise"
    data-test="other-panel"
    @keydown.escape="emit('back')"
  >
    <span class="label"
      >Done otherwise than the plan says. The log keeps what was done, and the answer values that.</span
    >
    <label class="f"
      ><span class="label">It came off</span
      ><PickOne id="other-from" v-model="from" :options="blocks" aria-label="It came off"
    /></label>
    <div class="way">
      <h3>Several parts left together</h3>
      <p class="small">Touch them here or on the map.</p>
      <div class="parts">
        <button
          v-for="p in parts"
          :key="p.id"
          type="button"
          :class="{ on: chosenHere.includes(p.id) }"
          :aria-pressed="chosenHere.includes(p.id)"
          :data-part="p.id"
          @click="emit('toggle', p.id)"
        >
          {{ shortName(p.name) }}
        </button>
      </div>
      <button
        type="button"
        class="go"
        data-test="book-block"
        :disabled="!canBook || chosenHere.length < 1"
        @click="bookBlock"
      >
        {{ chosenHere.length ? say`Book as one block: ${name}` : say('Book as one block') }}
      </button>
    </div>
    <div class="way">
      <h3>It became something else</h3>
      <span class="row"
        ><PickOne id="other-product" v-model="product" :options="board.fixed?.sold_as ?? []" aria-label="Sold as" />
        <input
          v-model="count"
          class="count"
          inputmode="numeric"
          maxlength="3"
          placeholder="how many"
          aria-label="How many"
        />
      </span>
      <button type="button" class="go" data-test="book-product" :disabled="!canBook || !product" @click="bookProduct">
        Book it as that
      </button>
    </div>
    <p v-if="why" class="small">{{ why }}</p>
    <button type="button" @click="emit('back')">Back</button>
  </div>
</template>

<style scoped>
.other {
  display: flex;
  flex-direction: column;
  gap: 10px;
  border: 4px solid var(--act);
  background: var(--surface);
  padding: 10px;
}
h3 {
  margin: 0;
  font-size: 15px;
}
.way {
  display: flex;
  flex-direction: column;
  gap: 6px;
  border-top: 1px solid var(--hairline);
  padding-top: 8px;
}
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
button {
  min-height: 56px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: none;
  padding: 0 12px;
  cursor: pointer;
  font-weight: 600;
}
button.on {
  border: 2px solid var(--act);
  color: var(--act);
}
.go {
  border-color: var(--ink);
}
.go:disabled {
  color: var(--ink-2);
  border-color: var(--hairline);
  cursor: default;
}
.count {
  width: 110px;
  height: 48px;
  font: inherit;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 10px;
  background: var(--surface);
  color: var(--ink);
}
</style>
