<script setup lang="ts">
// The simulated scale's pan: lay a weight on it, take it off. Shown only where the scale says that it is a stand-in.
import { ref } from 'vue'
import type { S } from '../api/client'

const props = defineProps<{ suggestG?: number }>()
const emit = defineEmits<{ command: [S['ScaleCommand']] }>()
const grams = ref('')
const lay = (g: number) => emit('command', { command: 'put', g })

function typed() {
  const g = Number(grams.value.replace(',', '.'))
  if (grams.value.trim() && Number.isFinite(g) && g >= 0) lay(g)
}
</script>

<template>
  <form class="pan" aria-label="Simulated scale" @submit.prevent="typed" @keydown.stop>
    <span class="label">simulated</span>
    <button type="button" data-test="lay" :disabled="!props.suggestG" @click="lay(Math.round(props.suggestG ?? 0))">
      lay it on
    </button>
    <button type="button" data-test="take" @click="emit('command', { command: 'take' })">take off</button>
    <label
      ><input v-model="grams" inputmode="decimal" placeholder="grams" aria-label="Grams to lay on the simulated scale"
    /></label>
    <button type="submit">lay on</button>
  </form>
</template>

<style scoped>
.pan {
  display: flex;
  align-items: center;
  gap: 4px;
  border: 1px dashed var(--line);
  padding: 3px 6px;
  flex-wrap: wrap;
}
button {
  height: 56px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: none;
  padding: 0 10px;
  min-width: 56px;
  cursor: pointer;
  font-stretch: 82%;
  white-space: nowrap;
}
button:disabled {
  opacity: 0.5;
  cursor: default;
}
input {
  width: 64px;
  height: 56px;
  font: inherit;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 6px;
  background: var(--surface);
  color: var(--ink);
}
</style>
