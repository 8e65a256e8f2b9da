<script setup lang="ts">
// How the shop reckons with its sales.
import { computed, reactive, watch } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { typedNumber } from '../words/typed'
import { say } from '../words/say'

const props = defineProps<{ settings: S['SaleSettings']; keep: (s: S['SaleSettings']) => Promise<void> }>()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const fields = {
  packs: say('Packs a week of what was not sold yet'),
  weeks: say('That weighs as much as so many weeks of sales'),
  half_life: say('A week counts half after, weeks'),
  pack_g: say('A pack that was never weighed, grams'),
  elasticity: say('Sold more for one per cent less, per cent'),
  steps: say('Reduce by, per cent'),
} as const
type Field = keyof typeof fields
const form = reactive<Record<Field, string>>({
  packs: '',
  weeks: '',
  half_life: '',
  pack_g: '',
  elasticity: '',
  steps: '',
})
watch(
  () => props.settings,
  (s) =>
    Object.assign(form, {
      packs: String(s.packs),
      weeks: String(s.weeks),
      half_life: String(s.half_life),
      pack_g: String(s.pack_g),
      elasticity: String(s.elasticity),
      steps: s.steps.join(' '),
    }),
  { immediate: true },
)
const fault = (f: Field) => problem.value?.at(f) ?? ''
const rest = computed(() => problem.value?.rest(Object.keys(fields)) ?? '')
const save = () =>
  attempt(async () => {
    await props.keep({
      packs: typedNumber(form.packs),
      weeks: typedNumber(form.weeks),
      half_life: typedNumber(form.half_life),
      pack_g: typedNumber(form.pack_g),
      elasticity: typedNumber(form.elasticity),
      steps: form.steps
        .split(/[\s;]+/)
        .filter(Boolean)
        .map(typedNumber),
      version: props.settings.version,
    })
    done(say('Kept; forecasts and reductions go by it from now on.'))
  })
</script>

<template>
  <details class="settings">
    <summary><strong>How sales are reckoned</strong></summary>
    <form novalidate aria-label="How sales are reckoned" @submit.prevent="save">
      <FormField v-for="(label, f) in fields" :id="`sales-${f}`" :key="f" :label="label" :fault="fault(f)"
        ><InputText :id="`sales-${f}`" v-model="form[f]" inputmode="decimal" :invalid="!!fault(f)" autocomplete="off"
      /></FormField>
      <p v-if="rest" class="fault" role="alert">{{ rest }}</p>
      <div><PvButton type="submit" severity="secondary" label="Save" :loading="busy" data-test="sales-save" /></div>
    </form>
  </details>
</template>

<style scoped>
.settings {
  margin-top: 18px;
}
summary {
  min-height: 44px;
  padding-top: 12px;
  cursor: pointer;
}
form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 12px 18px;
  align-items: end;
}
</style>
