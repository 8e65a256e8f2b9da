<script setup lang="ts">
// One's own page: shops, password, PIN, and where one is signed in.
import { reactive, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import FileLinks from '../components/FileLinks.vue'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { data, DELETE, GET, PUT } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import ExampleOffer from '../shell/ExampleOffer.vue'
import { roleName, useMe } from '../shell/me'
import { moment } from '../words/shown'
import { say } from '../words/say'

const router = useRouter()
const { me, changed, signOut } = useMe()
const sessions = useQuery({ queryKey: keyOf('sessions'), queryFn: () => data(GET('/me/sessions')) })
const pass = reactive({ old: '', new: '' })
const pin = ref('')
const said = ref('')
const passAttempt = useAttempt()
const pinAttempt = useAttempt()
const { problem, busy, attempt } = useAttempt()
const { busy: passBusy, problem: passProblem } = passAttempt
const { busy: pinBusy, problem: pinProblem } = pinAttempt

const setPassword = () =>
  passAttempt.attempt(async () => {
    await data(PUT('/me/password', { body: { ...pass } }))
    Object.assign(pass, { old: '', new: '' })
    said.value = say('The password is changed; everywhere else you are signed out.')
    await sessions.refetch()
  })
const setPin = (value: string) =>
  pinAttempt.attempt(async () => {
    await data(PUT('/me/pin', { body: { pin: value } }))
    pin.value = ''
    said.value = value
      ? say('The PIN is set. It counts on enrolled screens at the benches.')
      : say('The PIN is taken away.')
    await changed()
  })
const switchTo = (id: string) =>
  attempt(async () => {
    await data(PUT('/session/shop', { body: { shop_id: id } }))
    await changed()
    await router.push({ name: 'rail' })
  })
const everywhere = () =>
  attempt(async () => {
    await data(DELETE('/me/sessions'))
    await changed()
  })
</script>

<template>
  <section class="page">
    <div class="spread">
      <h1 class="sentence">{{ me?.name }}</h1>
      <PvButton label="Sign out" severity="secondary" :disabled="busy" @click="attempt(signOut)" />
    </div>
    <p class="small">{{ roleName(me?.role ?? '') }} · {{ me?.email }}</p>
    <p v-if="said" class="said" role="status">{{ said }}</p>
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <div class="lay">
      <div class="stack">
        <h2>Where you are signed in</h2>
        <StateNote
          :error="sessions.error.value"
          :loading="sessions.isLoading.value"
          what="your sign-ins"
          @retry="sessions.refetch()"
        />
        <table v-if="sessions.data.value" v-wide>
          <thead>
            <tr>
              <th>On</th>
              <th>By</th>
              <th>Since</th>
              <th>Last used</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="s in sessions.data.value" :key="s.id">
              <td>{{ s.about }}<strong v-if="s.this"> (this one)</strong></td>
              <td>{{ s.via === 'pin' ? 'PIN' : s.via === 'demo' ? say('touch') : say('password') }}</td>
              <td>{{ moment(s.began_at) }}</td>
              <td>{{ moment(s.seen_at) }}</td>
            </tr>
          </tbody>
        </table>
        <PvButton severity="secondary" label="Sign out everywhere" :disabled="busy" @click="everywhere" />
        <ExampleOffer v-if="!me?.demo" class="gap" />
        <template v-if="me && me.shops.length > 1">
          <h2 class="gap">Your shops</h2>
          <div v-for="s in me.shops" :key="s.id" class="row shoprow">
            <strong>{{ s.name }}</strong><span class="small">{{ roleName(s.role) }}</span
            ><span v-if="s.id === me.shop_id" class="small">you are here</span
            ><PvButton v-else severity="secondary" label="Go there" :disabled="busy" @click="switchTo(s.id)" />
          </div>
        </template>
      </div>
      <div class="stack narrow">
        <form class="stack" novalidate @submit.prevent="setPin(pin)">
          <h2>PIN for the benches</h2>
          <FormField
            id="pin"
            :label="me?.has_pin ? say('New PIN, four digits') : say('PIN, four digits')"
            :fault="pinProblem?.at('pin')"
            ><InputText
              id="pin"
              v-model="pin"
              type="password"
              inputmode="numeric"
              maxlength="4"
              autocomplete="off"
              :invalid="!!pinProblem?.at('pin')"
          /></FormField>
          <p v-if="pinProblem?.rest(['pin'])" class="fault" role="alert">{{ pinProblem.rest(['pin']) }}</p>
          <div class="row">
            <PvButton type="submit" severity="secondary" label="Set the PIN" :loading="pinBusy" /><PvButton
              v-if="me?.has_pin"
              text
              label="Remove it"
              :disabled="pinBusy"
              @click="setPin('')"
            />
          </div>
        </form>
        <form v-if="me?.via !== 'demo'" class="stack gap" novalidate @submit.prevent="setPassword">
          <h2>Password</h2>
          <FormField id="old" label="The one you have" :fault="passProblem?.at('old')"
            ><InputText
              id="old"
              v-model="pass.old"
              type="password"
              autocomplete="current-password"
              :invalid="!!passProblem?.at('old')"
          /></FormField>
          <FormField id="new" label="The new one" hint="At least 12 characters" :fault="passProblem?.at('new')"
            ><InputText
              id="new"
              v-model="pass.new"
              type="password"
              autocomplete="new-password"
              :invalid="!!passProblem?.at('new')"
          /></FormField>
          <p v-if="passProblem?.rest(['old', 'new'])" class="fault" role="alert">
            {{ passProblem.rest(['old', 'new']) }}
          </p>
          <PvButton type="submit" severity="secondary" label="Change it" :loading="passBusy" />
        </form>
        <p v-else class="small gap">The demo's accounts have no passwords.</p>
        <div class="stack gap">
          <h2>What is kept of you</h2>
          <p class="small">
            Your name and address, your sign-ins and tokens, and all that you weighed and changed in this shop. When you
            leave, an owner can replace your name by a pseudonym.
          </p>
          <FileLinks :files="[{ label: say('Fetch all of it (JSON)'), href: '/api/v1/me/data' }]" />
        </div>
      </div>
    </div>
  </section>
</template>

<style scoped>
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  gap: 48px;
  margin-top: 24px;
  align-items: start;
}
.gap {
  margin-top: 28px !important;
}
.said {
  margin-top: 12px;
  font-weight: 600;
}
.shoprow {
  border-bottom: 1px solid var(--hairline);
  min-height: 56px;
}
@media (max-width: 900px) {
  .lay {
    grid-template-columns: 1fr;
  }
}
</style>
