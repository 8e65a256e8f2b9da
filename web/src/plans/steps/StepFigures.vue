<script setup lang="ts">
// How thick, how heavy, into how many, where along the block, and what is laid or put in.
import { computed } from 'vue'
import PvButton from 'primevue/button'
import InputText from 'primevue/inputtext'
import PickOne from '../../components/PickOne.vue'
import type { Step } from './stepDraft'
import StepNumber from './StepNumber.vue'
import StepRange from './StepRange.vue'
import { say } from '../../words/say'

const props = defineProps<{ fields: string[]; blocks: { id: string; name: string }[] }>()
const step = defineModel<Step>({ required: true })

const has = (f: string) => props.fields.includes(f)
const zone = computed(() => step.value.zone ?? {})
function putZone(f: 'from_mm' | 'to_mm' | 'while' | 'until', v: number | string | undefined) {
  const z = { ...zone.value, [f]: v }
  if (!v) delete z[f]
  if (Object.keys(z).length) step.value.zone = z
  else delete step.value.zone
}
const joins = computed({
  get: () => step.value.joins ?? '',
  set: (v) => {
    if (v) step.value.joins = v
    else delete step.value.joins
  },
})
const byBone = computed({
  get: () => step.value.by === 'bone',
  set: (v) => {
    if (v) step.value.by = 'bone'
    else delete step.value.by
  },
})
const adds = computed(() => step.value.adds ?? [])
const addOne = () => (step.value.adds = [...adds.value, { ingredient: '' }])
const dropAdd = (i: number) => (step.value.adds = adds.value.filter((_, k) => k !== i))
</script>

<template>
  <div class="figures">
    <span v-if="has('mm')" class="f"
      ><span class="label">Thick, mm</span><StepRange v-model="step.mm" label="Thick"
    /></span>
    <span v-if="has('portion_g')" class="f"
      ><span class="label">One weighs, g</span><StepRange v-model="step.portion_g" label="One weighs"
    /></span>
    <span v-if="has('each_into')" class="f"
      ><span class="label">Each slice into</span><StepRange v-model="step.each_into" label="Each slice into"
    /></span>
    <label v-if="has('into_blocks')" class="f"
      ><span class="label">Into so many</span><StepNumber v-model="step.into_blocks" label="Into so many"
    /></label>
    <label v-if="has('by')" class="f tick"><input v-model="byBone" type="checkbox" /> one to each bone</label>
    <span v-if="has('joins')" class="f wide"
      ><span class="label">Laid into it</span
      ><PickOne v-model="joins" :options="blocks" none="nothing" label="What is laid into it"
    /></span>
  </div>
  <div v-if="has('zone')" class="figures">
    <span class="f"
      ><span class="label">Along it, from mm</span
      ><StepNumber :model-value="zone.from_mm" label="From mm" @update:model-value="putZone('from_mm', $event)"
    /></span>
    <span class="f"
      ><span class="label">to mm</span
      ><StepNumber :model-value="zone.to_mm" label="To mm" @update:model-value="putZone('to_mm', $event)"
    /></span>
  </div>
  <div v-if="has('adds')">
    <p class="label">Put in or on it</p>
    <div v-for="(a, i) in adds" :key="i" class="figures">
      <InputText v-model="a.ingredient" placeholder="ingredient" :aria-label="say`Ingredient ${i + 1}`" />
      <label class="cell"
        ><StepNumber v-model="a.per_kg" :label="say`Kilograms of ingredient ${i + 1} a kilogram`" /><span class="small"
          >kg a kg</span
        ></label
      >
      <label class="cell"
        ><StepNumber v-model="a.each" :label="say`Of ingredient ${i + 1} each`" /><span class="small"
          >or so much each</span
        ></label
      >
      <PvButton text label="Remove" :aria-label="say`Remove ingredient ${i + 1}`" @click="dropAdd(i)" />
    </div>
    <PvButton severity="secondary" label="An ingredient" @click="addOne" />
  </div>
</template>

<style scoped>
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 18px;
  align-items: end;
}
.f {
  display: grid;
  gap: 4px;
}
.f.wide {
  min-width: 200px;
}
.tick {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
}
.cell {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
</style>
