<script setup lang="ts">
// A day: typed as people type one ("−7", "16.11.", "2026-11-16"), or touched in a calendar. The text stays as it was
// typed; what it means is said by the calendar and by whoever asks.
import { computed, useTemplateRef } from 'vue'
import InputText from 'primevue/inputtext'
import DatePicker from 'primevue/datepicker'
import Popover from 'primevue/popover'
import { isDay, typedDay } from '../words/typed'
import { say } from '../words/say'

withDefaults(
  defineProps<{
    id: string
    placeholder?: string
    invalid?: boolean
    label?: string
    /** What is typed counts once it is done, for a field that asks the server. */
    lazy?: boolean
  }>(),
  { placeholder: '', label: undefined },
)
const text = defineModel<string>({ required: true })
const popover = useTemplateRef<InstanceType<typeof Popover>>('popover')
const date = computed(() => {
  const d = typedDay(text.value)
  return isDay(d) ? new Date(`${d}T12:00:00`) : null
})
const two = (n: number) => String(n).padStart(2, '0')
function pick(d: Date | Date[] | (Date | null)[] | null | undefined) {
  if (d instanceof Date) text.value = `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`
  popover.value?.hide()
}
</script>

<template>
  <span class="day-pick">
    <InputText
      :id="id"
      :model-value="text"
      :placeholder="placeholder"
      :invalid="invalid"
      :aria-label="label"
      autocomplete="off"
      @update:model-value="(v) => !lazy && (text = v ?? '')"
      @change="text = ($event.target as HTMLInputElement).value"
    /><button
      type="button"
      class="calendar"
      aria-haspopup="dialog"
      :aria-label="say`Calendar${label ? `: ${label}` : ''}`"
      :aria-describedby="label ? undefined : `${id}-label`"
      @click="popover?.toggle($event)"
    >
      <svg viewBox="0 0 20 20" aria-hidden="true"><path d="M3 4h14v13H3zM3 8h14M7 2v4M13 2v4" /></svg>
    </button>
    <Popover ref="popover">
      <DatePicker inline :model-value="date" @update:model-value="pick" />
    </Popover>
  </span>
</template>

<style scoped>
.day-pick {
  display: flex;
  min-width: 0;
}
.day-pick :deep(.p-inputtext) {
  flex: 1;
  min-width: 0;
}
.calendar {
  flex: none;
  width: 44px;
  margin-left: -1px;
  border: 1px solid var(--line);
  border-radius: 0 2px 2px 0;
  background: var(--surface);
  color: var(--ink-2);
  cursor: pointer;
}
.calendar:hover {
  color: var(--ink);
}
svg {
  width: 20px;
  height: 20px;
  fill: none;
  stroke: currentcolor;
  stroke-width: 1.5;
}
</style>
