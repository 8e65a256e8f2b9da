<script setup lang="ts">
// The head of a board: what lies on it, who cuts, the clock, and what is said while there is no connection.
import { computed } from 'vue'
import { counted, say } from '../words/say'
import BenchKeys from './BenchKeys.vue'
import type { BenchKey } from './keys'

const props = defineProps<{
  title: string
  of: string
  bench: string
  who: string
  minutes: number
  paused: boolean
  away: string
  waiting: number
  keys: BenchKey[]
}>()
const emit = defineEmits<{ press: [string] }>()
const safe = computed(() =>
  props.waiting
    ? say`${counted(props.waiting, 'weighing waits', 'weighings wait')} here, safe; go on cutting.`
    : say('Nothing is lost; go on cutting.'),
)
</script>

<template>
  <header class="head">
    <h1>{{ title }}</h1>
    <span class="small of">{{ of }}</span>
    <span class="facts"
      ><span>{{ bench }}</span>
      <slot />
      <span class="small">{{ who }}</span>
      <span data-test="minutes">{{ minutes.toFixed(0) }} min<template v-if="paused">, paused</template></span></span
    >
    <Teleport defer to="#bar-keys"><BenchKeys :keys="keys" more @press="emit('press', $event)" /></Teleport>
  </header>
  <p v-if="away" class="away" role="status">{{ away }} {{ safe }}</p>
</template>

<style scoped>
.head {
  display: flex;
  align-items: center;
  gap: 4px 14px;
  flex-wrap: wrap;
}
.of {
  max-width: 60ch;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.facts {
  margin-left: auto;
  display: flex;
  gap: 16px;
  align-items: baseline;
  font-weight: 600;
}
.away {
  background: var(--act-wash);
  padding: 6px 12px;
  font-weight: 600;
}
</style>
