<script setup lang="ts">
// Address and password; in the demo its accounts, one touch each.
import { reactive, ref, watch } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import { data, POST } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { roleName, useMe } from '../shell/me'
import EntryFrame from './EntryFrame.vue'
import { say } from '../words/say'

const { me, changed } = useMe()
const { busy, problem, attempt } = useAttempt()
const typing = ref(false)
const form = reactive({ email: '', password: '' })
watch(form, () => (problem.value = undefined))

const signIn = () =>
  attempt(async () => {
    await data(POST('/session', { body: { ...form } }))
    await changed()
  })
const takeOffer = (id: string) =>
  attempt(async () => {
    await data(POST('/session/demo', { body: { member_id: id } }))
    await changed()
  })
const what: Record<string, string> = {
  owner: say('everything, and the shop itself'),
  head_cutter: say('the work, prices and benches'),
  cutter: say('receives, plans, cuts and judges'),
  apprentice: say('cuts'),
  yield_desk: say('receives, prices, judges and compares'),
}
</script>

<template>
  <EntryFrame
    v-if="me?.demo && !typing"
    title="Who is working?"
    says="This is the demo: an invented cutting hall with invented people. Choose who to be; it needs no password."
  >
    <button
      v-for="o in me.offered"
      :key="o.id"
      type="button"
      class="offer"
      :disabled="busy"
      :data-role="o.role"
      @click="takeOffer(o.id)"
    >
      <span class="hook" aria-hidden="true" /><strong>{{ roleName(o.role) }}</strong
      ><span class="small">{{ what[o.role] }}</span>
    </button>
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <p class="small">
      Somebody you have invited signs in
      <button type="button" class="link" @click="typing = true">with address and password</button>.
    </p>
  </EntryFrame>
  <EntryFrame
    v-else-if="me && !me.set_up"
    title="This installation has nobody yet"
    says="When the program starts it prints a link that sets it up. Open it; it works once, each start has a new one."
  />
  <EntryFrame
    v-else
    title="Who is at the desk?"
    says="Cutters at a bench sign in with their PIN on the bench's own screen."
  >
    <template #words
      ><p class="small">
        A screen on the wall? <RouterLink :to="{ name: 'enrol' }">Enrol it at its bench</RouterLink> with a code from
        the benches' page.
      </p></template
    >
    <form class="stack" novalidate @submit.prevent="signIn">
      <FormField id="email" label="Address" :fault="problem?.at('email')"
        ><InputText
          id="email"
          v-model="form.email"
          type="email"
          autocomplete="username"
          autofocus
          :invalid="!!problem?.at('email')"
      /></FormField>
      <FormField id="password" label="Password" :fault="problem?.at('password')"
        ><InputText
          id="password"
          v-model="form.password"
          type="password"
          autocomplete="current-password"
          :invalid="!!problem?.at('password')"
      /></FormField>
      <p v-if="problem?.rest(['email', 'password'])" class="fault" role="alert">
        {{ problem.rest(['email', 'password']) }}
      </p>
      <PvButton type="submit" label="Come in" :loading="busy" />
      <p class="small">Forgotten? An owner of your shop gives you a link to choose a new one.</p>
    </form>
  </EntryFrame>
</template>

<style scoped>
.link {
  border: 0;
  background: none;
  padding: 0;
  color: var(--act);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
}
.offer {
  position: relative;
  display: flex;
  align-items: baseline;
  gap: 12px;
  min-height: 60px;
  padding: 16px 16px 12px;
  background: var(--surface);
  border: 1px solid var(--hairline);
  cursor: pointer;
  text-align: left;
  margin-top: 2px;
}
.offer:hover {
  border-color: var(--ink);
}
.offer strong {
  font-size: 18px;
  min-width: 120px;
}
.hook {
  position: absolute;
  top: -19px;
  left: 20px;
  width: 2px;
  height: 19px;
  background: var(--ink);
}
</style>
