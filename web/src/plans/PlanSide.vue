<script setup lang="ts">
// One of two ways: which plan, and what is chosen within it.
import { computed } from 'vue'
import type { S } from '../api/client'
import PickOne from '../components/PickOne.vue'
import PlanOptions from './PlanOptions.vue'
import { say } from '../words/say'

const props = defineProps<{ letter: 'A' | 'B'; plans: S['PlanDetail'][]; fault: (field: string) => string }>()
const plan = defineModel<string>('plan', { required: true })
const options = defineModel<Record<string, string>>('options', { required: true })
const detail = computed(() => props.plans.find((p) => p.plan.id === plan.value))
const offered = computed(() => props.plans.filter((p) => !p.retired && p.faults.length === 0))
const id = computed(() => `way-${props.letter.toLowerCase()}`)

const nameOf = (p: S['PlanDetail']) =>
  p.plan.own ? say`${p.plan.name} (our own, version ${p.plan.version})` : p.plan.name
function choose(id: unknown) {
  plan.value = String(id)
  options.value = {}
}
</script>

<template>
  <section class="side" :data-way="letter">
    <div class="field">
      <label class="label" :for="id">Way {{ letter }}</label>
      <PickOne
        :id="id"
        :model-value="plan"
        :options="offered"
        by="plan.id"
        :called="nameOf"
        @update:model-value="choose"
      />
      <p v-if="fault('plan_id')" class="fault" role="alert">{{ fault('plan_id') }}</p>
    </div>
    <p v-if="detail" class="small why">{{ detail.plan.why }}</p>
    <PlanOptions v-if="detail" :id="id" v-model="options" :plan="detail" :fault="(o) => fault(`options.${o}`)" />
  </section>
</template>

<style scoped>
.side {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 14px 16px 16px;
  border: 1px solid var(--hairline);
  border-top: 4px solid var(--ink);
  background: var(--surface);
  min-width: 0;
}
.side[data-way='B'] {
  border-top-color: var(--act);
}
.why {
  min-height: 54px;
}
</style>
