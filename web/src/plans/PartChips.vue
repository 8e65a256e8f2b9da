<script setup lang="ts">
// What of a piece is no muscle of the map: fat, bone, trim, skin; touched like a muscle.
import { shortName } from '../words/shown'
import type { S } from '../api/client'

defineProps<{
  parts: S['PlanPart'][]
  on: (id: string) => boolean
  says: (p: S['PlanPart']) => string
  bad?: (id: string) => boolean
  off?: (id: string) => boolean
  disabled?: boolean
}>()
const emit = defineEmits<{ pick: [string] }>()
</script>

<template>
  <div class="parts">
    <button
      v-for="p in parts"
      :key="p.id"
      type="button"
      :class="{ on: on(p.id), bad: bad?.(p.id), off: off?.(p.id) }"
      :disabled="disabled"
      :data-part="p.id"
      :aria-pressed="on(p.id)"
      @click="emit('pick', p.id)"
    >
      <span class="kind" :class="p.kind" aria-hidden="true" /> {{ shortName(p.name) }}
      <span class="small">{{ says(p) }}</span>
    </button>
  </div>
</template>

<style scoped>
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
button {
  min-height: 44px;
  padding: 4px 10px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  cursor: pointer;
  font-weight: 600;
  font-size: 13px;
}
.on {
  border-color: var(--act);
  background: var(--act-wash);
}
.bad {
  border: 2px solid var(--act);
}
.off {
  color: var(--ink-2);
}
</style>
