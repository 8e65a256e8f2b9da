<script setup lang="ts">
// What the scale is told by touch: which tub stands on it, and its tare.
import { say } from '../words/say'
defineProps<{ tub?: string; tared: boolean }>()
const emit = defineEmits<{ tubs: []; tare: [] }>()
</script>

<template>
  <button type="button" class="key" :class="{ on: tub }" @click="emit('tubs')">{{ tub ?? say('Tub') }}</button>
  <button type="button" class="key" @click="emit('tare')">{{ tared ? say('Clear tare') : say('Tare') }}</button>
</template>

<style scoped>
.key {
  min-height: 56px;
  min-width: 56px;
  padding: 0 7px;
  font-stretch: 84%;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  cursor: pointer;
  font-weight: 600;
}
@media (max-width: 480px) {
  .key {
    padding: 0 4px;
  }
}
.key.on {
  background: var(--ink);
  color: var(--surface);
}
</style>
