<script setup lang="ts">
// One step of a plan: what is done to which block, what leaves, and what it becomes.
import { computed } from 'vue'
import PickOne from '../../components/PickOne.vue'
import type { S } from '../../api/client'
import StepBlocks from './StepBlocks.vue'
import StepFigures from './StepFigures.vue'
import StepGives from './StepGives.vue'
import StepNumber from './StepNumber.vue'
import StepParts from './StepParts.vue'
import StepWords from './StepWords.vue'
import { blockIds, blocksBefore, changeVerb, type Draft, type Step } from './stepDraft'
import { say } from '../../words/say'

const props = defineProps<{
  draft: Draft
  at: number
  list: S['PlanList']
  told: Record<string, string> // a step's words
}>()
const step = computed<Step>(() => props.draft.steps[props.at]!)
const fields = computed(() => props.list.verbs.find((v) => v.id === step.value.do)?.fields ?? [])
const blocks = computed(() => blocksBefore(props.draft.steps, props.at))
const ids = computed(() => blockIds(props.draft.steps))
const products = computed(() => props.draft.products.map((p) => ({ id: p.id ?? '', name: p.name, form: p.form })))
const earlier = computed(() =>
  props.draft.steps.slice(0, props.at).map((s) => ({ id: s.id, words: props.told[s.id] ?? s.id })),
)
const weighings = [
  { id: 'each', name: say('each by itself') },
  { id: 'together', name: 'together' },
  { id: 'tub', name: say('with its tub') },
  { id: 'none', name: say('not at all') },
]
const verb = computed({
  get: () => step.value.do as string,
  set: (v) => changeVerb(step.value, v, props.list.verbs.find((x) => x.id === v)?.fields ?? []),
})
const of = computed({
  get: () => step.value.of?.[0] ?? '',
  set: (id) => (step.value.of = id ? [id] : []),
})
const one = <K extends 'tool' | 'weigh'>(f: K) =>
  computed({
    get: () => step.value[f] ?? '',
    set: (v) => {
      if (v) step.value[f] = v as Step[K]
      else delete step.value[f]
    },
  })
const tool = one('tool')
const weigh = one('weigh')
const base = computed({
  get: () => step.value.minutes?.base,
  set: (v) => {
    const minutes = { ...step.value.minutes, base: v }
    if (v === undefined) delete minutes.base
    step.value.minutes = minutes
  },
})
const worked = computed(() => [
  ...blocks.value,
  ...(step.value.of ?? []).filter((x) => !blocks.value.some((b) => b.id === x)).map((id) => ({ id, name: id })),
])
</script>

<template>
  <div class="form" data-test="step-form">
    <div class="head">
      <span class="f"
        ><span class="label">What is done</span><PickOne v-model="verb" :options="list.verbs" label="What is done"
      /></span>
      <span class="f"
        ><span class="label">To which block</span
        ><PickOne v-model="of" :options="worked" none="what is left of the one before" label="To which block"
      /></span>
      <span class="f"
        ><span class="label">With</span><PickOne v-model="tool" :options="list.tools" none="not said" label="With"
      /></span>
      <label class="f"><span class="label">Minutes</span><StepNumber v-model="base" label="Minutes" /></label>
      <span class="f"
        ><span class="label">Weighed</span
        ><PickOne v-model="weigh" :options="weighings" none="as usual" label="Weighed"
      /></span>
    </div>
    <StepParts v-model="draft.steps[at]!" :fields="fields" :parts="list.parts" :tubs="list.tubs" :blocks="blocks" />
    <div class="blocks"><StepBlocks v-model="draft.steps[at]!" :fields="fields" :ids="ids" /></div>
    <StepFigures v-model="draft.steps[at]!" :fields="fields" :blocks="blocks" />
    <StepGives v-if="fields.includes('gives')" v-model="draft.steps[at]!" :products="products" :tubs="list.tubs" />
    <details>
      <summary>Its words, its order, and under which choice</summary>
      <StepWords v-model="draft.steps[at]!" :earlier="earlier" :options="draft.options" />
    </details>
  </div>
</template>

<style scoped>
.form {
  display: grid;
  gap: 14px;
  padding: 8px 0 16px;
}
.head {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(150px, 1fr));
  gap: 10px 14px;
  align-items: end;
}
.blocks {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 10px 14px;
  align-items: start;
}
.blocks:empty {
  display: none;
}
.f {
  display: grid;
  gap: 4px;
  min-width: 0;
}
summary {
  cursor: pointer;
  min-height: 44px;
  padding-top: 12px;
  font-weight: 600;
}
</style>
