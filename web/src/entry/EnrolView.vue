<script setup lang="ts">
// Makes this screen the one of a bench.
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import { data, POST } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import EntryFrame from './EntryFrame.vue'
import { say } from '../words/say'

const router = useRouter()
const { me, changed } = useMe()
const { busy, problem, attempt } = useAttempt()
const code = ref('')
const says = say(
  "An owner or head cutter makes a code on the benches' page. Type it here once; then cutters sign in on this screen " +
    'with their PIN.',
)
const enrol = () =>
  attempt(async () => {
    await data(POST('/enrolment', { body: { code: code.value } }))
    await changed()
    await router.push({ name: 'rail' })
  })
</script>

<template>
  <EntryFrame title="Which bench is this screen at?" :says="says">
    <template #words
      ><p v-if="me?.screen" class="small">
        It is at {{ me.screen.bench }} of {{ me.screen.shop }} now; a new code moves it.
      </p></template
    >
    <form class="stack" novalidate @submit.prevent="enrol">
      <FormField id="code" label="Code" :fault="problem?.at('code')"
        ><InputText
          id="code"
          v-model="code"
          class="code"
          autocomplete="off"
          autocapitalize="characters"
          spellcheck="false"
          maxlength="12"
          autofocus
          :invalid="!!problem?.at('code')"
          placeholder="ABCD-2345"
      /></FormField>
      <p v-if="problem?.rest(['code'])" class="fault" role="alert">{{ problem.rest(['code']) }}</p>
      <PvButton type="submit" label="Enrol this screen" :loading="busy" />
      <p class="small"><RouterLink :to="{ name: 'rail' }">Back</RouterLink></p>
    </form>
  </EntryFrame>
</template>

<style scoped>
.code {
  font-size: 30px;
  letter-spacing: 0.08em;
  text-transform: uppercase;
}
</style>
