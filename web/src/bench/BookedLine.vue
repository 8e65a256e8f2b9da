<script setup lang="ts">
// What was booked last, for as long as one may want to take it back; and why something was not.
defineProps<{ booked: string; canUndo: boolean; fault: string; notBooked?: string }>()
const emit = defineEmits<{ undo: [] }>()
</script>

<template>
  <p v-if="fault" class="fault" role="alert" data-test="refused">
    {{ fault }}<template v-if="notBooked"> Not booked: {{ notBooked }}.</template>
  </p>
  <div v-else-if="booked" class="booked" role="status" data-test="booked">
    <span>{{ booked }}</span>
    <button v-if="canUndo" type="button" @click="emit('undo')">Undo</button>
  </div>
</template>

<style scoped>
.booked {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 12px;
  min-height: 56px;
  padding: 0 0 0 12px;
  background: var(--act-wash);
  font-weight: 600;
}
button {
  min-height: 56px;
  min-width: 96px;
  border: 1px solid var(--ink);
  border-radius: 2px;
  background: var(--surface);
  font: inherit;
  cursor: pointer;
}
</style>
