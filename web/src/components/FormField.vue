<script setup lang="ts">
// A field with its label, its hint, and its fault in words.
defineProps<{ id: string; label: string; fault?: string; hint?: string }>()
</script>

<template>
  <div class="field">
    <label :id="`${id}-label`" class="label" :for="id">{{ label }}</label>
    <slot />
    <p v-if="fault" :id="`${id}-fault`" class="fault" role="alert">{{ fault }}</p>
    <p v-else-if="hint" class="small">{{ hint }}</p>
  </div>
</template>

<style scoped>
.field {
  display: flex;
  flex-direction: column;
  gap: 4px;
  min-width: 0;
}
</style>
