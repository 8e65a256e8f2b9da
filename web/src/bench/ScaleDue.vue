<script setup lang="ts">
// The line that says a bench's scale is to be checked with a test weight; nothing where it is not.
import { computed } from 'vue'
import { useShop } from '../shell/shop'
import { dayOf } from '../words/shown'
import { say } from '../words/say'

const props = defineProps<{ bench: string }>()
const emit = defineEmits<{ check: [] }>()
const { shop } = useShop()
const state = computed(() => shop.value?.benches.find((b) => b.id === props.bench)?.scale_check)
const says = computed(() => {
  const last = state.value?.last
  if (!last) return say('The scale of this bench was never checked with a test weight.')
  return last.fits
    ? say`The scale of this bench was last checked on ${dayOf(last.at)}.`
    : say('The scale of this bench was off when it was checked last.')
})
</script>

<template>
  <p v-if="state?.due" class="due" data-test="scale-due">
    {{ says }} <button type="button" @click="emit('check')">Check it</button>
  </p>
</template>

<style scoped>
.due {
  display: flex;
  align-items: center;
  gap: 12px;
  flex-wrap: wrap;
  font-size: 15px;
}
button {
  min-height: 44px;
  padding: 0 12px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: none;
  font-weight: 600;
  cursor: pointer;
}
</style>
