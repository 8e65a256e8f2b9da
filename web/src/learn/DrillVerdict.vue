<script setup lang="ts">
// Whether an answer was right, why, what the house says of it, and how it felt.
import PvButton from 'primevue/button'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import type { Felt } from './useSitting'
import { say } from '../words/say'

const props = defineProps<{ verdict: S['DrillVerdict']; question: S['DrillQuestion']; busy: boolean }>()
const emit = defineEmits<{ next: [Felt] }>()
const { mass } = useShop()
const truth = (n: number) =>
  props.question.number?.unit === 'g'
    ? mass(n, 2)
    : `${Math.round(n)}${props.question.number?.unit === 'mm' ? say(' mm') : ''}`
</script>

<template>
  <div class="verdict" :class="{ wrong: !verdict.right }" role="status" data-test="drill-verdict">
    <strong>{{
      verdict.right
        ? verdict.done
          ? say('Right.')
          : say('It is off.')
        : verdict.done
          ? say('Not this time.')
          : say('Wait.')
    }}</strong>
    <template v-if="verdict.number !== undefined && verdict.done"> It is {{ truth(verdict.number) }}.</template>
    {{ verdict.says }}
    <p v-for="n in verdict.notes" :key="n" class="house">The house: {{ n }}</p>
  </div>
  <div v-if="verdict.done" class="row">
    <PvButton label="Next" :disabled="busy" data-test="drill-next" @click="emit('next', '')" />
    <template v-if="verdict.right">
      <PvButton severity="secondary" label="I guessed" :disabled="busy" @click="emit('next', 'guessed')" />
      <PvButton severity="secondary" label="Too easy" :disabled="busy" @click="emit('next', 'easy')" />
    </template>
  </div>
</template>

<style scoped>
.verdict {
  border-left: 4px solid var(--ink);
  padding: 6px 12px;
  background: var(--surface);
}
.verdict.wrong {
  border-left-color: var(--act);
}
.wrong strong {
  color: var(--act);
}
.house {
  margin: 6px 0 0;
  font-weight: 600;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
