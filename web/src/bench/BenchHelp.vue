<script setup lang="ts">
// What the keys do, over the board for as long as it is asked.
import type { BenchKey } from './keys'

defineProps<{ keys: BenchKey[] }>()
</script>

<template>
  <div class="help" role="note">
    <p>
      <kbd>0</kbd>–<kbd>9</kbd> type a weight: without a point in grams, with one in kilograms; on a pound bench always
      pounds. <kbd>Enter</kbd> books what is next. <kbd>Esc</kbd> clears.
    </p>
    <p v-for="k in keys" :key="k.key">
      <kbd v-if="!k.mute">{{ k.key.toUpperCase() }}</kbd> {{ k.name }}: {{ k.help }}
    </p>
  </div>
</template>

<style scoped>
.help {
  position: absolute;
  bottom: 100%;
  left: 0;
  background: var(--surface);
  border: 2px solid var(--ink);
  padding: 14px 18px;
  z-index: 5;
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 6px 20px;
  max-width: 860px;
}
.help p:first-child {
  grid-column: 1 / -1;
}
</style>
