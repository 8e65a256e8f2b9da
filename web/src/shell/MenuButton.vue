<script setup lang="ts">
// A button that opens a panel under the bar; Escape, a touch elsewhere, or a page that is chosen closes it.
import { ref, useTemplateRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useEventListener } from './useEventListener'

defineProps<{ label: string; here?: boolean }>()
const open = ref(false)
const root = useTemplateRef<HTMLElement>('root')
const button = useTemplateRef<HTMLButtonElement>('button')
const route = useRoute()
watch(
  () => route.fullPath,
  () => (open.value = false),
)
function outside(e: Event) {
  if (open.value && e.target instanceof Node && !root.value?.contains(e.target)) open.value = false
}
function escape(e: KeyboardEvent) {
  if (!open.value || e.key !== 'Escape') return
  open.value = false
  button.value?.focus()
}
useEventListener('pointerdown', outside)
useEventListener('focusin', outside)
useEventListener('keydown', escape)
</script>

<template>
  <span ref="root" class="menu">
    <button
      ref="button"
      type="button"
      class="opens"
      :class="{ here, open }"
      :aria-expanded="open"
      @click="open = !open"
    >
      {{ label }}
    </button>
    <span v-if="open" class="panel"><slot /></span>
  </span>
</template>

<style scoped>
.menu {
  position: relative;
  display: flex;
  align-items: stretch;
}
.opens {
  min-height: 56px;
  padding: 0 12px;
  border: 0;
  border-bottom: 4px solid transparent;
  border-top: 4px solid transparent;
  background: none;
  cursor: pointer;
  font-weight: 650;
  font-stretch: 86%;
  color: var(--ink-2);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  max-width: 220px;
}
.opens.here {
  color: var(--act);
  border-bottom-color: var(--act);
}
.opens.open {
  background: var(--ink);
  color: var(--surface);
}
.panel {
  position: absolute;
  top: 100%;
  right: 0;
  min-width: 240px;
  background: var(--surface);
  border: 2px solid var(--ink);
  padding: 8px;
  z-index: 30;
}
@media (max-width: 700px) {
  .menu {
    position: static;
  }
  .panel {
    left: 0;
    right: 0;
    max-height: calc(100vh - 56px);
    overflow: auto;
  }
}
</style>
