<script setup lang="ts">
// Two or three choices of a word or less; arrow keys or a touch change it.
defineProps<{ options: string[]; label: string; names?: Record<string, string> }>()
const value = defineModel<string>({ required: true })
</script>

<template>
  <span class="units" role="radiogroup" :aria-label="label">
    <label v-for="o in options" :key="o" :class="{ on: value === o }">
      <input v-model="value" class="vh" type="radio" :value="o" :name="label" />{{ names?.[o] ?? o }}
    </label>
  </span>
</template>

<style scoped>
.units {
  display: inline-flex;
}
label {
  display: inline-flex;
  align-items: center;
  justify-content: center;
  min-width: 52px;
  padding: 0 10px;
  height: 44px;
  border: 1px solid var(--line);
  margin-left: -1px;
  cursor: pointer;
  color: var(--ink-2);
  background: var(--surface);
  font-weight: 650;
}
label.on {
  background: var(--ink);
  color: var(--surface);
  border-color: var(--ink);
}
label:focus-within {
  outline: 3px solid var(--act);
  outline-offset: 1px;
  z-index: 1;
}
</style>
