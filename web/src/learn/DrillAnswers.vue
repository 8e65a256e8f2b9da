<script setup lang="ts">
// The answers to a question: choices to touch, things that come off, or a number.
import { computed, ref } from 'vue'
import PvButton from 'primevue/button'
import PvInputText from 'primevue/inputtext'
import FormField from '../components/FormField.vue'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { typedNumber } from '../words/typed'
import { say } from '../words/say'

const props = defineProps<{
  question: S['DrillQuestion']
  verdict?: S['DrillVerdict']
  touched: string[]
  busy: boolean
}>()
const emit = defineEmits<{ touch: [string]; enter: [number]; check: [] }>()
const { unit, gramsOf } = useShop()
const list = computed(() => props.question.things ?? props.question.choices ?? [])
const done = computed(() => props.verdict?.done ?? false)
const off = computed(() => props.verdict?.off ?? [])
const state = (id: string) => {
  if (props.question.things) return off.value.includes(id) ? 'off' : ''
  if (!done.value) return props.touched.includes(id) ? 'on' : ''
  if (props.verdict!.truth.includes(id)) return 'right'
  return props.touched.includes(id) ? 'wrong' : ''
}
const signs: Record<string, string> = { right: '✓', wrong: '✗', off: 'off' }
const mark = (id: string) => signs[state(id)] ?? ''
const typed = ref('')
const kind = computed(() => props.question.number?.unit)
const fault = ref('')
function enter() {
  const n = kind.value === 'g' ? gramsOf(typed.value) : typedNumber(typed.value)
  fault.value = n >= 0 ? '' : say('Type a number.')
  if (n >= 0) emit('enter', n)
}
</script>

<template>
  <ol v-if="list.length" class="choices" :class="{ long: list.some((c) => c.name.length > 60) }">
    <li v-for="(c, i) in list" :key="c.id">
      <button
        type="button"
        :class="state(c.id)"
        :disabled="busy || done || state(c.id) === 'off'"
        :aria-pressed="question.many ? touched.includes(c.id) : undefined"
        :data-choice="c.id"
        @click="emit('touch', c.id)"
      >
        <span class="no" aria-hidden="true">{{ mark(c.id) || i + 1 }}</span><span>{{ c.name }}</span>
      </button>
    </li>
  </ol>
  <PvButton
    v-if="question.many && !done"
    label="These and no others"
    :disabled="busy || !touched.length"
    data-test="drill-check"
    @click="emit('check')"
  />
  <form v-if="kind === 'g' || kind === 'pieces'" class="number" @submit.prevent="enter">
    <FormField id="drill-number" :label="kind === 'g' ? say`It weighs, ${unit}` : say('Pieces')" :fault="fault">
      <PvInputText id="drill-number" v-model="typed" inputmode="decimal" autocomplete="off" :disabled="done" />
    </FormField>
    <PvButton v-if="!done" type="submit" label="That is it" :disabled="busy" data-test="drill-enter" />
  </form>
</template>

<style scoped>
.choices {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 6px;
}
button:not(.p-button) {
  display: flex;
  gap: 12px;
  align-items: center;
  width: 100%;
  min-height: 56px;
  padding: 10px 12px;
  border: 1px solid var(--ink);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  text-align: left;
  font-weight: 650;
  cursor: pointer;
}
.long button {
  font-weight: 450;
}
button.on {
  background: var(--act-wash);
  border: 2px solid var(--act);
}
button.right {
  border: 2px solid var(--ink);
  background: var(--act-wash);
}
button.wrong {
  border-style: dashed;
  color: var(--act);
}
button.off {
  color: var(--ink-2);
  border-color: var(--hairline);
  text-decoration: line-through;
}
button:disabled {
  cursor: default;
  opacity: 1;
}
.no {
  min-width: 26px;
  color: var(--act);
  font-weight: 750;
  font-size: 13px;
  text-decoration: none;
}
.number {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: end;
}
</style>
