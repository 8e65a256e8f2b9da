<script setup lang="ts">
// The reason behind one grade, and the choice of its method.
import { computed, ref } from 'vue'
import PvButton from 'primevue/button'
import type { S } from '../../api/client'
import type { Problem } from '../../api/problem'
import { useMe } from '../../shell/me'
import GradeWhy from '../../grades/GradeWhy.vue'
import { say } from '../../words/say'

const props = defineProps<{
  muscle: S['MuscleJudgement']
  cell: S['GradeCell']
  method: string
  best: string
  problem?: Problem
  busy: boolean
}>()
const emit = defineEmits<{ choose: [string, string] }>()
const note = ref(props.muscle.chosen === props.cell.method ? props.muscle.note : '')
const isBest = computed(() => props.muscle.best === props.cell.method)
const isChosen = computed(() => props.muscle.chosen === props.cell.method)
const missing = ref(false)
const { may } = useMe()
const mayChoose = computed(() => may('PUT /breakdowns/{breakdown_id}/judgement/{part_id}'))

function choose() {
  if (!isBest.value && !note.value.trim()) {
    missing.value = true
    document.getElementById('method-note')?.focus()
    return
  }
  emit('choose', isBest.value ? '' : props.cell.method, isBest.value ? '' : note.value)
}
</script>

<template>
  <aside class="detail">
    <h2>{{ muscle.name }}: {{ method.toLowerCase() }}</h2>
    <GradeWhy :cell="cell" />
    <p class="small">
      19 times in 20 it eats better than {{ cell.low.toFixed(0) }}. The best method is the one with the highest such
      floor{{ isBest ? say(': this one') : `: ${best.toLowerCase()}` }}.
    </p>
    <p class="small"><strong>Grain.</strong> {{ muscle.grain }}</p>
    <p class="small"><strong>Judgement.</strong> {{ muscle.judge }}</p>
    <template v-if="!isBest && mayChoose">
      <label class="label" for="method-note">Why {{ method.toLowerCase() }} and not {{ best.toLowerCase() }}?</label>
      <textarea
        id="method-note"
        v-model="note"
        rows="2"
        maxlength="500"
        :aria-invalid="missing"
        @input="missing = false"
      />
      <p v-if="missing || problem?.at('note')" class="fault" role="alert">
        {{ problem?.at('note') || say('Say why the best method is not taken.') }}
      </p>
    </template>
    <p v-if="problem?.at('method')" class="fault" role="alert">{{ problem.at('method') }}</p>
    <PvButton
      v-if="mayChoose && (!isChosen || (!isBest && note !== muscle.note))"
      severity="secondary"
      :label="isBest ? say`Go back to the best: ${method.toLowerCase()}` : say`Choose ${method.toLowerCase()}`"
      :disabled="busy"
      data-test="choose-method"
      @click="choose"
    />
    <p v-else-if="isChosen" class="small">
      <strong>{{ isBest ? say('Chosen: it is the best.') : say('Chosen against the best.') }}</strong>
    </p>
  </aside>
</template>

<style scoped>
.detail {
  border-left: 1px solid var(--hairline);
  padding-left: 24px;
  display: flex;
  flex-direction: column;
  gap: 10px;
}
textarea {
  font: inherit;
  padding: 8px 10px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  width: 100%;
}
textarea[aria-invalid='true'] {
  border-color: var(--act);
  border-width: 2px;
}
</style>
