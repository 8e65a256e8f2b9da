<script setup lang="ts">
// What is asked, in a line that opens; it opens by itself where something of it must be put right, and stays as it is
// left.
import { ref, watch } from 'vue'
import { say } from '../words/say'

const props = defineProps<{ asked: string; wrong?: boolean }>()
const open = ref(false)
watch(
  () => props.wrong,
  (w) => w && (open.value = true),
  { immediate: true },
)
</script>

<template>
  <details class="question no-print" :open="open" @toggle="open = ($event.target as HTMLDetailsElement).open">
    <summary>
      <span class="asked">{{ asked }}</span> <span class="change">{{ open ? say('Close') : say('Change') }}</span>
    </summary>
    <slot />
  </details>
</template>

<style scoped>
.question {
  margin: 8px 0 16px;
  border-bottom: 1px solid var(--hairline);
  padding-bottom: 8px;
}
summary {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 14px;
  min-height: 44px;
  cursor: pointer;
}
.question > summary::before {
  content: none;
}
.asked {
  color: var(--ink-2);
}
.change {
  font-weight: 650;
  text-decoration: underline;
  text-underline-offset: 3px;
}
</style>
