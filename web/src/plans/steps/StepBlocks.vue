<script setup lang="ts">
// The blocks that a step leaves: one that stays together, several of them, and what is left of the block worked on.
import { computed } from 'vue'
import PvButton from 'primevue/button'
import { idOf, type Step } from './stepDraft'
import StepNumber from './StepNumber.vue'
import { say } from '../../words/say'

const props = defineProps<{ fields: string[]; ids: string[] }>()
const step = defineModel<Step>({ required: true })

const leaving = computed(() => Object.keys(step.value.parts ?? {}).length > 0)
const one = computed({
  get: () => step.value.as?.[0]?.name ?? step.value.as?.[0]?.block.replace(/_/g, ' ') ?? '',
  set: (name) => {
    if (!name.trim()) step.value.as = []
    else step.value.as = [{ ...(step.value.as?.[0] ?? { block: idOf(name, props.ids) }), name }]
  },
})
const rest = computed({
  get: () => step.value.rest?.name ?? step.value.rest?.block.replace(/_/g, ' ') ?? '',
  set: (name) => {
    if (!name.trim()) delete step.value.rest
    else step.value.rest = { ...(step.value.rest ?? { block: idOf(name, props.ids) }), name }
  },
})
const rows = computed(() => step.value.as ?? [])
const add = () => (step.value.as = [...rows.value, { block: idOf('block', props.ids), name: '' }])
const drop = (i: number) => (step.value.as = rows.value.filter((_, k) => k !== i))
</script>

<template>
  <div v-if="fields.includes('as')" class="blocks">
    <label v-if="leaving" class="line"
      ><span class="label">Stays together as a block called</span
      ><input v-model.lazy="one" class="text" placeholder="nothing: it is sold as it comes off" autocomplete="off"
    /></label>
    <template v-else>
      <p class="label">Divides into</p>
      <div v-for="(b, i) in rows" :key="b.block" class="row">
        <input v-model="b.name" class="text" :aria-label="say`Block ${i + 1}`" autocomplete="off" />
        <StepNumber v-model="b.pct" :label="say`Percent of block ${i + 1}`" /><span class="small">%</span>
        <PvButton text label="Remove" :aria-label="say`Remove block ${i + 1}`" @click="drop(i)" />
      </div>
      <PvButton severity="secondary" label="A block" @click="add" />
    </template>
  </div>
  <label v-if="fields.includes('rest')" class="line"
    ><span class="label">What is left is called</span
    ><input v-model.lazy="rest" class="text" placeholder="what is left" autocomplete="off"
  /></label>
</template>

<style scoped>
.line {
  display: grid;
  gap: 4px;
}
.text {
  font: inherit;
  min-height: 44px;
  padding: 3px 10px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  width: 100%;
}
.row .text {
  flex: 1 1 160px;
  width: auto;
}
</style>
