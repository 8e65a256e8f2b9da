<script setup lang="ts">
// The one-time link that a new installation prints: the first shop and its owner.
import { reactive, watch } from 'vue'
import { useRouter } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import { data, POST } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import EntryFrame from './EntryFrame.vue'
import NewShopFields from './NewShopFields.vue'
import { newShopFields, useNewShop } from './useNewShop'
import { say } from '../words/say'

const router = useRouter()
const { changed } = useMe()
const link = window.location.hash.slice(1)
const { busy, problem, attempt } = useAttempt()
const { form, markets, body } = useNewShop(say('North, South'))
const owner = reactive({ owner_name: '', owner_email: '', owner_password: '' })
watch([form, owner], () => (problem.value = undefined))
const fields = [...newShopFields, 'owner_name', 'owner_email', 'owner_password', 'link']
const fault = (f: string) => problem.value?.at(f) ?? ''

const setUp = () =>
  attempt(async () => {
    await data(POST('/set-up', { body: { ...body(), ...owner, link } }))
    await changed()
    await router.replace({ name: 'rail' })
  })
</script>

<template>
  <EntryFrame
    title="A shop and its owner"
    says="This is asked once. All but the currency can be changed later; that is fixed once there are prices or lots."
  >
    <form class="stack" novalidate aria-label="Set up" @submit.prevent="setUp">
      <NewShopFields v-model="form" :markets="markets" :fault="fault" />
      <h2>The owner</h2>
      <FormField id="owner-name" label="Name" :fault="fault('owner_name')"
        ><InputText id="owner-name" v-model="owner.owner_name" autocomplete="name" :invalid="!!fault('owner_name')"
      /></FormField>
      <FormField id="owner-email" label="Address to sign in with" :fault="fault('owner_email')"
        ><InputText
          id="owner-email"
          v-model="owner.owner_email"
          type="email"
          autocomplete="username"
          :invalid="!!fault('owner_email')"
      /></FormField>
      <FormField id="owner-password" label="Password" hint="At least 12 characters" :fault="fault('owner_password')"
        ><InputText
          id="owner-password"
          v-model="owner.owner_password"
          type="password"
          autocomplete="new-password"
          :invalid="!!fault('owner_password')"
      /></FormField>
      <p v-if="fault('link') || problem?.rest(fields)" class="fault" role="alert">
        {{ fault('link') ? say`The link ${fault('link').toLowerCase()}` : problem?.rest(fields) }}
      </p>
      <PvButton type="submit" label="Set it up" :loading="busy" />
    </form>
  </EntryFrame>
</template>

<style scoped>
h2 {
  padding-top: 10px;
}
</style>
