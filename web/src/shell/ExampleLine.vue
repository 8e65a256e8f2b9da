<script setup lang="ts">
// What is said all the time in an example shop: that nothing here is real, the way home, and how it goes away.
import PvButton from 'primevue/button'
import { useFeedback } from '../feedback/useFeedback'
import { useExample } from './useExample'
import { say } from '../words/say'

const { home, busy, problem, go, remove } = useExample()
const { ask } = useFeedback()
async function away() {
  const sure = await ask({
    title: say('Remove the example shop?'),
    text: say('All that is in it goes, also what you tried here. Your own shop is not touched. It can be filled anew.'),
    yes: say('Remove it'),
  })
  if (sure) await remove()
}
</script>

<template>
  <div class="example no-print" role="status" data-test="example-line">
    <strong>An example shop.</strong><span>Nothing here is real, and none of it counts in your own shop.</span>
    <PvButton
      v-if="home"
      severity="secondary"
      size="small"
      :label="say`Back to ${home.name}`"
      :disabled="busy"
      @click="go(home.id)"
    />
    <PvButton text size="small" label="Remove it" :disabled="busy" @click="away" />
    <span v-if="problem" class="fault" role="alert">{{ problem.message }}</span>
  </div>
</template>

<style scoped>
.example {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 14px;
  padding: 4px 20px;
  border-bottom: 1px solid var(--line);
  background: var(--surface);
  font-size: 15px;
}
</style>
