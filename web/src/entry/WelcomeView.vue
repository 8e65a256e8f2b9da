<script setup lang="ts">
// A link with which somebody chooses a password. Its secret stands behind the # and so comes into no log.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import FormField from '../components/FormField.vue'
import { data, POST, PUT } from '../api/client'
import { asProblem } from '../api/problem'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import EntryFrame from './EntryFrame.vue'
import { say } from '../words/say'

const router = useRouter()
const { changed } = useMe()
const link = window.location.hash.slice(1)
const { data: who, error } = useQuery({
  queryKey: keyOf('invitation'),
  queryFn: () => data(POST('/invitation', { body: { link } })),
  staleTime: Infinity,
  retry: false,
})
const { busy, problem, attempt } = useAttempt()
const password = ref('')
const shown = ref(false)
const says = computed(() =>
  who.value?.choose === false
    ? say('This address has joined another shop before. Enter the password you have there; it stays as it is.')
    : say(
        'At least 12 characters. A few words that belong together for you alone are better than signs ' +
          'that nobody keeps in the head.',
      ),
)
const choose = () =>
  attempt(async () => {
    await data(PUT('/invitation/password', { body: { link, password: password.value } }))
    await changed()
    await router.replace({ name: 'rail' })
  })
</script>

<template>
  <EntryFrame
    v-if="error"
    title="This link does not hold"
    :says="asProblem(error).at('link') || asProblem(error).message"
    ><RouterLink :to="{ name: 'rail' }">To the sign-in</RouterLink></EntryFrame
  >
  <EntryFrame v-else-if="who" :title="who.choose ? say('Choose a password') : say`Join ${who.shop}`" :says="says">
    <form class="stack" novalidate @submit.prevent="choose">
      <p>
        You sign in as <strong>{{ who.email }}</strong>{{ who.shop ? say`, to ${who.shop}` : '' }}.
      </p>
      <input
        class="vh"
        type="email"
        autocomplete="username"
        :value="who.email"
        tabindex="-1"
        readonly
        aria-hidden="true"
      />
      <FormField id="new-password" label="Password" :fault="problem?.at('password') || problem?.at('link')"
        ><InputText
          id="new-password"
          v-model="password"
          :type="shown ? 'text' : 'password'"
          :autocomplete="who.choose ? 'new-password' : 'current-password'"
          autofocus
          :invalid="!!problem?.at('password')"
      /></FormField>
      <label class="row small"><input v-model="shown" type="checkbox" /> Show it</label>
      <p v-if="problem?.rest(['password', 'link'])" class="fault" role="alert">
        {{ problem.rest(['password', 'link']) }}
      </p>
      <PvButton type="submit" :label="who.choose ? say('Save and sign in') : say('Join')" :loading="busy" />
    </form>
  </EntryFrame>
</template>
