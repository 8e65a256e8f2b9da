<script setup lang="ts">
// The link of the page that hangs above the counter: made, shown once, taken down.
import { ref } from 'vue'
import PvButton from 'primevue/button'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { say } from '../words/say'

const props = defineProps<{
  on: boolean
  version: number
  hang: (on: boolean, version: number) => Promise<string | undefined>
}>()
const { done, ask } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const link = ref('')
const make = () =>
  attempt(async () => {
    link.value = (await props.hang(true, props.version)) ?? ''
  })
async function takeDown() {
  const q = {
    title: say('Take the page down?'),
    text: say('Its link opens nothing any more.'),
    yes: say('Take it down'),
  }
  if (!(await ask(q))) return
  await attempt(async () => {
    await props.hang(false, props.version)
    link.value = ''
    done(say('The page above the counter is down.'))
  })
}
</script>

<template>
  <section class="above">
    <h2>The page above the counter</h2>
    <p class="small">
      For a screen that customers see: names, prices, how it is cooked best, where it comes from. Whoever has the link
      sees that, and nothing else of the shop.
    </p>
    <p v-if="link">
      <a :href="link" target="_blank" data-test="above-link">{{ link }}</a>
      <span class="small"> Shown once: open it on the screen.</span>
    </p>
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <div class="row">
      <PvButton
        severity="secondary"
        :label="on ? say('Make a new link') : say('Make a link')"
        :loading="busy"
        data-test="above-make"
        @click="make"
      /><PvButton v-if="on" text label="Take it down" :disabled="busy" @click="takeDown" />
    </div>
  </section>
</template>

<style scoped>
.above {
  margin-top: 24px;
}
</style>
