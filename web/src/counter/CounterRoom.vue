<script setup lang="ts">
// How large the counter is, and by which of the house's rules it is laid out.
import { computed, reactive, watch } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { typedCount, typedNumber } from '../words/typed'
import { say } from '../words/say'

const props = defineProps<{ room: S['CounterRoom']; keep: (r: S['CounterRoom']) => Promise<void> }>()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const fields = {
  length_cm: say('Counter, cm long'),
  depth_cm: say('cm deep'),
  tray_wide_cm: say('Tray, cm wide'),
  tray_deep_cm: say('Tray, cm deep'),
  tray_kg: say('A tray holds, kg'),
  least_kg: say('A tray of its own from, kg'),
  most_trays: say('Trays of one product at most'),
} as const
type Field = keyof typeof fields
const all = Object.keys(fields) as Field[]
const form = reactive({
  ...(Object.fromEntries(all.map((f) => [f, ''])) as Record<Field, string>),
  apart: true,
  freely: false,
})
watch(
  () => props.room,
  (r) => {
    for (const f of all) form[f] = String(r[f])
    form.apart = r.keep_apart
    form.freely = r.freely
  },
  { immediate: true },
)
const fault = (f: string) => problem.value?.at(f) ?? ''
const rest = computed(() => problem.value?.rest(all) ?? '')
const save = () =>
  attempt(async () => {
    const numbers = Object.fromEntries(all.map((f) => [f, typedNumber(form[f])])) as Record<Field, number>
    await props.keep({
      ...numbers,
      most_trays: typedCount(form.most_trays),
      keep_apart: form.apart,
      freely: form.freely,
      version: props.room.version,
    })
    done(say('Kept; the counter is laid out so.'))
  })
</script>

<template>
  <details class="room">
    <summary><strong>How large the counter is</strong>, and the house’s rules</summary>
    <form novalidate aria-label="How large the counter is" @submit.prevent="save">
      <FormField v-for="(label, f) in fields" :id="`counter-${f}`" :key="f" :label="label" :fault="fault(f)"
        ><InputText :id="`counter-${f}`" v-model="form[f]" inputmode="decimal" :invalid="!!fault(f)" autocomplete="off"
      /></FormField>
      <label class="tick-line"
        ><input v-model="form.apart" type="checkbox" /> beef, lamb and what holds an allergen stand apart</label
      >
      <label class="tick-line"
        ><input v-model="form.freely" type="checkbox" /> bony things need not stand beside meaty ones</label
      >
      <p v-if="rest" class="fault" role="alert">{{ rest }}</p>
      <div><PvButton type="submit" severity="secondary" label="Save" :loading="busy" data-test="counter-save" /></div>
    </form>
  </details>
</template>

<style scoped>
.room {
  margin-top: 18px;
}
summary {
  min-height: 44px;
  padding-top: 12px;
  cursor: pointer;
}
form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(200px, 1fr));
  gap: 12px 18px;
  align-items: end;
}
</style>
