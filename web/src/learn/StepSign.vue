<script setup lang="ts">
// What a head cutter said of a step; where they look themselves, two touches to say it.
import { ref } from 'vue'
import PvButton from 'primevue/button'
import PvInputText from 'primevue/inputtext'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { moment } from '../words/shown'
import { say } from '../words/say'

const props = defineProps<{ step: S['PracticeStep']; may: boolean; sign: (b: S['NewSignOff']) => Promise<void> }>()
const asking = ref(false)
const words = ref('')
const { busy, problem, attempt } = useAttempt()
const answer = (signed: boolean) =>
  attempt(async () => {
    await props.sign({ step: props.step.step, signed, ...(words.value.trim() && { words: words.value.trim() }) })
    asking.value = false
    words.value = ''
  })
</script>

<template>
  <p v-if="step.signed" class="said">
    <strong>{{ step.signed.signed ? say('Signed off') : say('To practise') }}</strong>, {{ step.signed.by }},
    {{ moment(step.signed.at) }}<span v-if="step.signed.words">: {{ step.signed.words }}</span>
  </p>
  <div v-if="may" class="acts no-print">
    <PvButton
      v-if="!step.signed?.signed"
      severity="secondary"
      label="Sign off"
      :disabled="busy"
      data-test="sign"
      @click="answer(true)"
    />
    <PvButton v-if="!asking" text label="To practise" data-test="practise" @click="asking = true" />
    <form v-else @submit.prevent="answer(false)">
      <PvInputText
        v-model="words"
        maxlength="300"
        :aria-label="say`What to practise: ${step.name}`"
        placeholder="what to practise"
        autocomplete="off"
        :invalid="!!problem?.at('words')"
      />
      <PvButton type="submit" label="Say it" :disabled="busy" data-test="say" />
    </form>
  </div>
  <p v-if="problem" class="fault" role="alert">{{ problem.at('words') || problem.message }}</p>
</template>

<style scoped>
.said {
  margin: 0;
}
.acts,
form {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
}
</style>
