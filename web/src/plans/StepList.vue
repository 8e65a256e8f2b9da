<script setup lang="ts">
// How a plan is done, in its order: what is taken off, cut or shaped, and what each step leaves on a usual piece.
import { computed, toRef } from 'vue'
import StateNote from '../components/StateNote.vue'
import { type S } from '../api/client'
import { useShop } from '../shell/shop'
import { usePlanSteps } from './stepQueries'
import { say } from '../words/say'

const props = defineProps<{ piece: string; plan: string; options: Record<string, string> }>()
const asked = computed(() => ({ piece: props.piece, plan: props.plan, options: toRef(props.options).value }))
const { data: done, error, isLoading, refetch } = usePlanSteps(asked)
const { mass } = useShop()

type Step = S['StepDone']
interface Line {
  step: Step
  /** What its block becomes, where that is reckoned by share and not weighed. */
  becomes: string[]
}
const reckoned = (s: Step) => s.step.weigh === 'none' && s.outputs.length > 0
const lines = computed(() => {
  const out: Line[] = []
  for (const step of done.value?.steps ?? []) {
    if (step.idle) continue
    const from =
      reckoned(step) && out.find((l) => l.step.outputs.some((o) => o.kind === 'block' && o.id === step.block))
    if (from) from.becomes.push(...step.outputs.map(outputWords))
    else out.push({ step, becomes: [] })
  }
  return out
})
const outputWords = (o: Step['outputs'][number]) => `${o.name}, ${mass(o.g, 2)}`
const weightOf = (l: Line) => l.step.outputs.filter((o) => o.kind !== 'tub').reduce((sum, o) => sum + o.g, 0)
const tool = (s: Step) => s.step.tool?.replace('_', ' ')
const minutes = (n: number) => say`${n.toFixed(1)} min`
/** The steps on paper, under what is chosen; and the plan as a file for another shop. */
const chosen = computed(() =>
  Object.entries(props.options)
    .map(([o, c]) => `${o}:${c}`)
    .join(','),
)
const card = computed(
  () =>
    `/api/v1/atlas/pieces/${props.piece}/card.pdf?${new URLSearchParams({ plan: props.plan, chosen: chosen.value })}`,
)
const file = computed(() => `/api/v1/plans/${props.piece}/${props.plan}/file`)
</script>

<template>
  <StateNote :error="error" :loading="isLoading" what="the steps" @retry="refetch()" />
  <ol v-if="done" class="steps">
    <li v-for="l in lines" :key="l.step.step.id">
      <span class="what"
        >{{ l.step.words }}<span v-if="l.becomes.length" class="small"> becomes {{ l.becomes.join('; ') }}</span
        ><span v-if="l.step.step.say?.find" class="small say">{{ l.step.step.say.find }}</span></span
      >
      <span class="n">{{ weightOf(l) ? mass(weightOf(l), 2) : '' }}</span>
      <span class="small">{{ tool(l.step) }}</span>
      <span class="n small">{{ l.step.minutes ? minutes(l.step.minutes) : '' }}</span>
    </li>
  </ol>
  <p v-if="done" class="small">
    {{ minutes(done.minutes) }} on a piece of the usual weight; weights are expected ones.<template
      v-if="done.allergens.length"
    >
      What is added brings {{ done.allergens.join(', ').toLowerCase() }}.</template
    >
  </p>
  <p v-if="done" class="row no-print">
    <a :href="card" target="_blank" data-test="plan-card">The steps on paper</a>
    <a :href="file" download data-test="plan-out">As a file for another shop</a>
  </p>
</template>

<style scoped>
.steps {
  margin: 10px 0;
  padding: 0;
  list-style: none;
  counter-reset: step;
}
li {
  counter-increment: step;
  display: grid;
  grid-template-columns: 34px 1fr 100px 120px 70px;
  gap: 10px;
  align-items: baseline;
  padding: 9px 0;
  border-bottom: 1px solid var(--hairline);
}
li::before {
  content: counter(step);
  color: var(--ink-2);
  font-variant-numeric: tabular-nums;
  text-align: right;
}
.n {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.say {
  display: block;
}
@media (max-width: 700px) {
  li {
    grid-template-columns: 28px 1fr 84px;
  }
  li > .small {
    display: none;
  }
}
</style>
