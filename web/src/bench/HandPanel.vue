<script setup lang="ts">
// To another bench: it goes on where this one stopped, with what is on the board and a word for who takes it.
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'

const props = defineProps<{ bench: string; busy: boolean }>()
const emit = defineEmits<{ hand: [{ bench: string; note: string }]; back: [] }>()
const { data: shop } = useQuery({ queryKey: keyOf('shop'), queryFn: () => data(GET('/shop')) })
const others = computed(() => (shop.value?.benches ?? []).filter((b) => b.id !== props.bench))
const note = ref('')
const root = useTemplateRef<HTMLElement>('root')
onMounted(() => void nextTick(() => root.value?.querySelector('button')?.focus()))
</script>

<template>
  <div
    ref="root"
    class="hand"
    role="group"
    aria-label="Hand it to another bench"
    data-test="hand-panel"
    @keydown.escape="emit('back')"
  >
    <span class="label">Hand it to another bench. The clock stops; it goes on there, today or another day.</span>
    <input
      v-model="note"
      maxlength="200"
      placeholder="for who takes it: clean, to be steaked"
      aria-label="For who takes it"
    />
    <span class="row">
      <button
        v-for="b in others"
        :key="b.id"
        type="button"
        :disabled="busy"
        @click="emit('hand', { bench: b.id, note })"
      >
        {{ b.name }}
      </button>
      <button type="button" @click="emit('back')">Back</button>
    </span>
    <p v-if="shop && !others.length" class="small">There is no other bench in use.</p>
  </div>
</template>

<style scoped>
.hand {
  display: flex;
  flex-direction: column;
  gap: 8px;
  border: 4px solid var(--act);
  background: var(--surface);
  padding: 10px;
}
button {
  min-height: 56px;
  border: 1px solid var(--ink);
  border-radius: 2px;
  background: none;
  padding: 0 16px;
  cursor: pointer;
  font-weight: 600;
}
input {
  height: 56px;
  font: inherit;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 10px;
  background: var(--surface);
  color: var(--ink);
}
</style>
