<script setup lang="ts">
// A number of a step: empty where it is not said. What is no number goes on as one that is refused, and stays in sight.
import { ref, watch } from 'vue'
import { number } from '../draft'

const props = defineProps<{ label: string; bad?: boolean; wide?: boolean }>()
const value = defineModel<number | undefined>({ required: true })
const text = ref(value.value === undefined ? '' : String(value.value))
watch(value, (v) => {
  if (number(text.value) !== (v ?? 0)) text.value = v === undefined ? '' : String(v)
})
function typed(e: Event) {
  text.value = (e.target as HTMLInputElement).value
  value.value = text.value.trim() === '' ? undefined : number(text.value)
}
</script>

<template>
  <input
    class="num"
    :class="{ wide }"
    :value="text"
    inputmode="decimal"
    :aria-label="props.label"
    :aria-invalid="bad || (value ?? 0) < 0"
    autocomplete="off"
    @input="typed"
  />
</template>

<style scoped>
.num {
  width: 74px;
  font: inherit;
  font-size: 16px;
  text-align: right;
  min-height: 44px;
  padding: 3px 8px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
}
.num.wide {
  width: 100%;
}
.num[aria-invalid='true'] {
  border: 2px solid var(--act);
}
</style>
