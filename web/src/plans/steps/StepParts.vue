<script setup lang="ts">
// What leaves with a step, or what dressing takes: the parts touched on the map, and how much of each.
import { computed } from 'vue'
import PvButton from 'primevue/button'
import InputText from 'primevue/inputtext'
import PickOne from '../../components/PickOne.vue'
import type { S } from '../../api/client'
import { shortName } from '../../words/shown'
import type { Step } from './stepDraft'
import StepNumber from './StepNumber.vue'
import { say } from '../../words/say'

const props = defineProps<{
  fields: string[]
  parts: S['PlanPart'][]
  tubs: S['Named'][]
  blocks: { id: string; name: string }[]
}>()
const step = defineModel<Step>({ required: true })

const name = (id: string) => shortName(props.parts.find((p) => p.id === id)?.name ?? id)
const leaves = computed(() => Object.keys(step.value.parts ?? {}))
function out(part: string) {
  const parts = { ...step.value.parts }
  delete parts[part]
  step.value.parts = parts
}
const to = computed(() => [
  ...props.tubs.map((t) => ({ id: t.id, name: t.id === 'discard' ? say('thrown away') : say`${t.name} (tub)` })),
  ...props.blocks.filter((b) => b.id !== 'piece').map((b) => ({ id: b.id, name: say`onto ${b.name}` })),
])
const dropTake = (i: number) => (step.value.takes = (step.value.takes ?? []).filter((_, k) => k !== i))
</script>

<template>
  <div v-if="fields.includes('parts')" class="leaves" data-test="leaves">
    <p class="label">What leaves</p>
    <p v-if="!leaves.length" class="small">
      {{ fields.includes('takes') ? '' : say('Touch it on the map or in the list below it.') }}
    </p>
    <div v-for="id in leaves" :key="id" class="part">
      <span>{{ name(id) }}</span>
      <label class="cell"
        ><StepNumber v-model="step.parts![id]" :label="say`Percent of ${name(id)}`" /><span class="small"
          >% of it</span
        ></label
      >
      <PvButton text label="Leave on" :aria-label="say`Leave ${name(id)} on`" @click="out(id)" />
    </div>
  </div>
  <div v-if="fields.includes('takes')" class="leaves" data-test="takes">
    <p class="label">What comes off</p>
    <p v-if="!step.takes?.length" class="small">Touch the part on the map that something comes off.</p>
    <div v-for="(t, i) in step.takes ?? []" :key="i" class="part">
      <span>{{ name(t.part) }}</span>
      <label class="cell"
        ><StepNumber v-model="t.pct" :label="say`Percent of ${name(t.part)}`" /><span class="small"
          >% of it</span
        ></label
      >
      <PickOne v-model="t.to" :options="to" :label="say`Where it goes from ${name(t.part)}`" />
      <InputText
        v-model="t.why"
        class="why"
        placeholder="what it is"
        :aria-label="say`What comes off ${name(t.part)}`"
      />
      <PvButton text label="Remove" :aria-label="say`Remove what comes off ${name(t.part)}`" @click="dropTake(i)" />
    </div>
  </div>
</template>

<style scoped>
.part {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  align-items: center;
  padding: 3px 0;
}
.part > :first-child {
  flex: 1 1 140px;
  font-weight: 600;
}
.part > .why {
  flex: 1 1 200px;
  width: auto;
}
.cell {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
</style>
