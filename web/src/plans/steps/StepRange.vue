<script setup lang="ts">
// From … to …; one number alone stands for both.
import { computed } from 'vue'
import type { S } from '../../api/client'
import StepNumber from './StepNumber.vue'
import { say } from '../../words/say'

defineProps<{ label: string }>()
const range = defineModel<S['StepRange'] | undefined>({ required: true })
const low = computed({
  get: () => range.value?.low || undefined,
  set: (v) => put(v, range.value && range.value.high !== range.value.low ? range.value.high : v),
})
const high = computed({
  get: () => (range.value && range.value.high !== range.value.low ? range.value.high : undefined),
  set: (v) => put(range.value?.low, v ?? range.value?.low),
})
function put(from: number | undefined, to: number | undefined) {
  range.value = from === undefined && to === undefined ? undefined : { low: from ?? 0, high: to ?? from ?? 0 }
}
</script>

<template>
  <span class="range"
    ><StepNumber v-model="low" :label="say`${label}, at least`" /><span aria-hidden="true">–</span
    ><StepNumber v-model="high" :label="say`${label}, at most`"
  /></span>
</template>

<style scoped>
.range {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
</style>
