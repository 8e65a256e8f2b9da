<script setup lang="ts">
// Why something goes into the bin. One touch, or the arrow keys and Enter.
import { nextTick, onMounted, ref, useTemplateRef } from 'vue'
import type { S } from '../api/client'
import { say } from '../words/say'

defineProps<{ waste: S['Expected'][] }>()
const emit = defineEmits<{ pick: [{ part?: string; reason: string }]; back: [] }>()
const reasons = [say('blood-shot corner'), say('stained or dried'), say('bone chip or cartilage'), say('dropped')]
const other = ref('')
const root = useTemplateRef<HTMLElement>('root')
const buttons = () => [...(root.value?.querySelectorAll('button') ?? [])]
onMounted(() => void nextTick(() => buttons()[0]?.focus()))

function step(by: number) {
  const all = buttons()
  const at = all.indexOf(document.activeElement as HTMLButtonElement)
  all[(at + by + all.length) % all.length]?.focus()
}
</script>

<template>
  <div
    ref="root"
    class="discard"
    role="group"
    aria-label="Discard: why?"
    data-test="discard-panel"
    @keydown.stop
    @keydown.escape="emit('back')"
    @keydown.right="step(1)"
    @keydown.left="step(-1)"
    @keydown.down="step(1)"
    @keydown.up="step(-1)"
  >
    <span class="label">Discard, why?</span>
    <button v-for="w in waste" :key="w.id" type="button" @click="emit('pick', { part: w.id, reason: 'as usual' })">
      {{ w.name }}
    </button>
    <button v-for="r in reasons" :key="r" type="button" @click="emit('pick', { reason: r })">{{ r }}</button>
    <form @submit.prevent="other.trim() && emit('pick', { reason: other.trim() })">
      <input v-model="other" maxlength="200" placeholder="another reason, Enter" aria-label="Another reason" />
    </form>
    <button type="button" @click="emit('back')">Back</button>
  </div>
</template>

<style scoped>
.discard {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  border: 4px solid var(--act);
  background: var(--surface);
  padding: 8px;
}
button {
  min-height: 56px;
  border: 1px solid var(--ink);
  border-radius: 2px;
  background: none;
  padding: 0 14px;
  cursor: pointer;
  font-weight: 600;
  max-width: 260px;
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
