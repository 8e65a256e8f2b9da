<script setup lang="ts">
// What the shop's labels say beside what is on the pack, and how large they are.
import { computed, reactive, watch } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { typedNumber } from '../words/typed'
import { say } from '../words/say'

const props = defineProps<{ settings: S['LabelSettings']; keep: (s: S['LabelSettings']) => Promise<void> }>()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const form = reactive({ packer: '', country: '', plant: '', prefix: '', wide: '', high: '', byWeight: false })
watch(
  () => props.settings,
  (s) =>
    Object.assign(form, {
      packer: s.packer,
      country: s.country,
      plant: s.plant,
      prefix: s.prefix,
      wide: String(s.wide_mm),
      high: String(s.high_mm),
      byWeight: s.by_weight,
    }),
  { immediate: true },
)
const fields = [
  { id: 'packer', of: 'packer', label: say('Packed by, with address') },
  { id: 'country', of: 'country', label: say('Cut in') },
  { id: 'plant', of: 'plant', label: say('Approval number of the plant') },
  { id: 'prefix', of: 'prefix', label: say('Own numbers begin with') },
  { id: 'wide', of: 'wide_mm', label: say('Label, mm wide') },
  { id: 'high', of: 'high_mm', label: say('Label, mm high') },
] as const
const fault = (f: string) => problem.value?.at(f) ?? ''
const rest = computed(() => problem.value?.rest(fields.map((f) => f.of)) ?? '')
const save = () =>
  attempt(async () => {
    await props.keep({
      packer: form.packer,
      country: form.country,
      plant: form.plant,
      prefix: form.prefix.trim(),
      by_weight: form.byWeight,
      wide_mm: typedNumber(form.wide),
      high_mm: typedNumber(form.high),
      version: props.settings.version,
    })
    done(say('Kept; labels say so from now on.'))
  })
</script>

<template>
  <details class="settings">
    <summary>What labels say</summary>
    <form novalidate aria-label="What labels say" @submit.prevent="save">
      <FormField v-for="f in fields" :id="`labels-${f.id}`" :key="f.id" :label="f.label" :fault="fault(f.of)"
        ><InputText :id="`labels-${f.id}`" v-model="form[f.id]" :invalid="!!fault(f.of)" autocomplete="off"
      /></FormField>
      <label class="tick"
        ><input v-model="form.byWeight" type="checkbox" /> the number holds the weight, and not the price</label
      >
      <p v-if="rest" class="fault" role="alert">{{ rest }}</p>
      <div><PvButton type="submit" severity="secondary" label="Save" :loading="busy" data-test="labels-save" /></div>
    </form>
  </details>
</template>

<style scoped>
.settings {
  margin-top: 24px;
}
summary {
  min-height: 44px;
  display: flex;
  align-items: center;
  cursor: pointer;
  font-weight: 650;
}
form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(230px, 1fr));
  gap: 12px 18px;
  align-items: end;
}
</style>
