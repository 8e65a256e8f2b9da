<script setup lang="ts">
// The next step, always in sight: the bench onto which the piece goes by the plan that was chosen, alone or with the
// others of its lot.
import PvButton from 'primevue/button'
import type { S } from '../../api/client'
import { shortName } from '../../words/shown'
import { counted } from '../../words/say'

defineProps<{ plan: string; fellows: number; benches: S['Bench'][]; usual: string; busy: boolean }>()
const together = defineModel<boolean>('together', { required: true })
const emit = defineEmits<{ put: [string] }>()
</script>

<template>
  <footer class="step no-print" aria-label="Put it on a bench">
    <span class="what"
      ><span class="label">Put it on a bench, cut as</span> <strong>{{ shortName(plan) }}</strong></span
    >
    <label v-if="fellows" class="with"
      ><input v-model="together" type="checkbox" data-test="together" /> with the other
      {{ counted(fellows, 'piece') }} of this lot</label
    >
    <span class="row"
      ><PvButton
        v-for="b in benches"
        :key="b.id"
        :label="b.name"
        :severity="b.id === usual ? undefined : 'secondary'"
        :disabled="busy"
        @click="emit('put', b.id)"
    /></span>
  </footer>
</template>

<style scoped>
.step {
  position: sticky;
  bottom: 0;
  z-index: 5;
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 20px;
  margin-top: 20px;
  padding: 10px 0;
  background: var(--ground);
  border-top: 2px solid var(--ink);
}
.what {
  display: flex;
  flex-direction: column;
  min-width: 0;
  flex: 1 1 220px;
}
.with {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
}
.with input {
  width: 24px;
  height: 24px;
  accent-color: var(--act);
}
</style>
