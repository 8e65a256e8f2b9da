<script setup lang="ts">
// Where cutters differ: a question, its answers, and which holds where none is given.
import PvButton from 'primevue/button'
import InputText from 'primevue/inputtext'
import type { S } from '../../api/client'
import { idOf, type Step } from './stepDraft'
import { say } from '../../words/say'

const props = defineProps<{ steps: Step[] }>()
const options = defineModel<S['StepOption'][]>({ required: true })
const chosen = defineModel<Record<string, string>>('chosen', { required: true })
type Option = S['StepOption']

function add() {
  const id = idOf(
    'choice',
    options.value.map((o) => o.id),
  )
  options.value.push({
    id,
    name: '',
    default: 'one',
    choices: [
      { id: 'one', name: '' },
      { id: 'other', name: '' },
    ],
  })
}
function addChoice(o: Option) {
  o.choices.push({
    id: idOf(
      'answer',
      o.choices.map((c) => c.id),
    ),
    name: '',
  })
}
function dropChoice(o: Option, i: number) {
  const [gone] = o.choices.splice(i, 1)
  if (o.default === gone!.id) o.default = o.choices[0]?.id ?? ''
  for (const s of props.steps) {
    const under = s.when?.[o.id]?.filter((c) => c !== gone!.id)
    if (under) s.when = { ...s.when, [o.id]: under }
  }
}
/** What was done under the choice is done always, then. */
function drop(i: number) {
  const [gone] = options.value.splice(i, 1)
  for (const s of props.steps) {
    const when = { ...s.when }
    delete when[gone!.id]
    s.when = when
  }
}
const seen = (o: Option) => chosen.value[o.id] || o.default
</script>

<template>
  <section aria-label="Where cutters differ">
    <fieldset v-for="(o, i) in options" :key="o.id" class="option">
      <legend class="vh">{{ o.name || say('A choice') }}</legend>
      <div class="row">
        <InputText v-model="o.name" placeholder="What is the question" :aria-label="say`Question ${i + 1}`" />
        <PvButton text label="Remove" :aria-label="say`Remove question ${i + 1}`" @click="drop(i)" />
      </div>
      <div v-for="(c, k) in o.choices" :key="c.id" class="row answer">
        <InputText
          v-model="c.name"
          :placeholder="say`Answer ${k + 1}`"
          :aria-label="say`Answer ${k + 1} to ${o.name}`"
        />
        <label class="tick"
          ><input v-model="o.default" type="radio" :name="`default-${o.id}`" :value="c.id" /> usual</label
        >
        <label class="tick"
          ><input
            type="radio"
            :name="`seen-${o.id}`"
            :checked="seen(o) === c.id"
            @change="chosen = { ...chosen, [o.id]: c.id }"
          />
          shown above</label
        >
        <PvButton
          v-if="o.choices.length > 2"
          text
          label="Remove"
          :aria-label="say`Remove answer ${k + 1}`"
          @click="dropChoice(o, k)"
        />
      </div>
      <PvButton text label="Another answer" @click="addChoice(o)" />
    </fieldset>
    <PvButton severity="secondary" label="A matter of choice" @click="add" />
  </section>
</template>

<style scoped>
.option {
  border: 0;
  border-bottom: 1px solid var(--hairline);
  padding: 4px 0 8px;
  margin: 0 0 8px;
  min-width: 0;
}
.row > :first-child {
  flex: 1 1 240px;
  max-width: 420px;
}
.answer {
  padding-left: 20px;
}
.tick {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 44px;
}
input[type='radio'] {
  accent-color: var(--act);
}
</style>
