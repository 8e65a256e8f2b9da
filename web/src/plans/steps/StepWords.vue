<script setup lang="ts">
// The words of a step, what must be done first, and under which choices it is done at all.
import { computed } from 'vue'
import InputText from 'primevue/inputtext'
import type { S } from '../../api/client'
import type { Step } from './stepDraft'
import StepNumber from './StepNumber.vue'
import { say } from '../../words/say'

const props = defineProps<{
  earlier: { id: string; words: string }[]
  options: S['StepOption'][]
}>()
const step = defineModel<Step>({ required: true })

const words = [
  ['find', say('How to find it')],
  ['mark', say('Where to begin or mark')],
  ['stop', say('Where to stop')],
  ['wrong', say('What goes wrong')],
  ['hold', say('How to hold it')],
] as const
function word(f: (typeof words)[number][0], text: string) {
  const all = { ...step.value.say, [f]: text }
  if (!text.trim()) delete all[f]
  step.value.say = all
}
const minutes = computed(() => step.value.minutes ?? {})
function time(f: 'base' | 'per_kg' | 'per_slice', v: number | undefined) {
  const all = { ...minutes.value, [f]: v }
  if (v === undefined) delete all[f]
  step.value.minutes = all
}
const after = (id: string) => step.value.after?.includes(id) ?? false
function waits(id: string, on: boolean) {
  const rest = (step.value.after ?? []).filter((x) => x !== id)
  step.value.after = on ? [...rest, id] : rest
}
const under = (o: string, c: string) => step.value.when?.[o]?.includes(c) ?? false
function only(o: string, c: string, on: boolean) {
  const rest = (step.value.when?.[o] ?? []).filter((x) => x !== c)
  const when = { ...step.value.when, [o]: on ? [...rest, c] : rest }
  if (!when[o]!.length) delete when[o]
  step.value.when = when
}
const ticked = (e: Event) => (e.target as HTMLInputElement).checked
const text = (e: Event) => (e.target as HTMLTextAreaElement).value
</script>

<template>
  <label class="f"
    ><span class="label">What it is called, where “what is done” does not say it</span
    ><InputText v-model="step.name" maxlength="60" autocomplete="off"
  /></label>
  <div class="grid">
    <label v-for="[f, name] in words" :key="f" class="f"
      ><span class="label">{{ name }}</span
      ><textarea rows="2" :value="step.say?.[f] ?? ''" @input="word(f, text($event))" />
    </label>
    <label class="f"><span class="label">What can hurt here</span><textarea v-model="step.caution" rows="2" /></label>
    <label class="f"><span class="label">How it is shown</span><textarea v-model="step.display" rows="2" /></label>
  </div>
  <p class="row">
    <span class="label">Minutes beside the fixed ones</span>
    <StepNumber :model-value="minutes.per_kg" label="Minutes a kilogram" @update:model-value="time('per_kg', $event)" />
    <span class="small">a kilogram</span>
    <StepNumber
      :model-value="minutes.per_slice"
      label="Minutes a slice"
      @update:model-value="time('per_slice', $event)"
    />
    <span class="small">a slice</span>
  </p>
  <fieldset v-for="o in props.options" :key="o.id">
    <legend class="label">Only where “{{ o.name }}” is</legend>
    <label v-for="c in o.choices" :key="c.id" class="tick"
      ><input type="checkbox" :checked="under(o.id, c.id)" @change="only(o.id, c.id, ticked($event))" />{{
        c.name
      }}</label
    >
  </fieldset>
  <fieldset v-if="earlier.length">
    <legend class="label">Must be done first, beside what makes its block</legend>
    <label v-for="e in earlier" :key="e.id" class="tick"
      ><input type="checkbox" :checked="after(e.id)" @change="waits(e.id, ticked($event))" />{{ e.words }}</label
    >
  </fieldset>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 18px;
}
.f {
  display: grid;
  gap: 4px;
}
textarea {
  font: inherit;
  padding: 6px 10px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  resize: vertical;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 10px 0 0;
  min-width: 0;
}
.tick {
  display: inline-flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
  margin-right: 18px;
}
@media (max-width: 700px) {
  .grid {
    grid-template-columns: 1fr;
  }
}
</style>
