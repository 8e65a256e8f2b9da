<script setup lang="ts">
// What an owner may change of a person.
import { reactive, ref, watch } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FileLinks from '../components/FileLinks.vue'
import FormField from '../components/FormField.vue'
import { data, POST, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import PickOne from '../components/PickOne.vue'
import { roleName, roles } from '../shell/me'
import { say } from '../words/say'

const props = defineProps<{ person: S['Person'] }>()
const emit = defineEmits<{ changed: []; link: [string] }>()
const { busy, problem, attempt } = useAttempt()
const { done, ask } = useFeedback()
const form = reactive({ name: props.person.name, role: props.person.role })
const pin = ref('')
watch([form, pin], () => (problem.value = undefined))
const fault = (f: string) => problem.value?.at(f) ?? ''
const path = { params: { path: { member_id: props.person.id } } }

const change = (active: boolean) =>
  attempt(async () => {
    await data(PUT('/people/{member_id}', { ...path, body: { ...form, active, version: props.person.version } }))
    done(active ? say`${form.name}: saved.` : say`${form.name} can no longer sign in.`)
    emit('changed')
  })
const setPin = (value: string) =>
  attempt(async () => {
    await data(PUT('/people/{member_id}/pin', { ...path, body: { pin: value } }))
    done(value ? say('PIN set.') : say('PIN removed.'))
    emit('changed')
  })
const block = async () => {
  const sure = await ask({
    title: say`Block access for ${props.person.name}?`,
    text: say('Every screen and browser that this person is signed in on is signed out at once. What they did stays.'),
    yes: say('Block access'),
  })
  if (sure) await change(false)
}
const unname = async () => {
  const sure = await ask({
    title: say`Replace the name of ${props.person.name}?`,
    text: say(
      'A pseudonym such as “Former cutter 3” takes its place everywhere, in the audit too; the address they signed ' +
        'in with goes. What they weighed and changed stays. Notes that somebody typed are not searched for the name. ' +
        'This cannot be undone.',
    ),
    yes: say('Replace the name'),
  })
  if (!sure) return
  await attempt(async () => {
    const now = await data(PUT('/people/{member_id}/pseudonym', path))
    done(say`Their name is now ${now.name}.`)
    emit('changed')
  })
}
const removePin = async () => {
  const sure = await ask({
    title: say`Remove the PIN of ${props.person.name}?`,
    text: say('They cannot sign in at a bench until they have a new one.'),
    yes: say('Remove PIN'),
  })
  if (sure) await setPin('')
}
const makeLink = () =>
  attempt(async () => {
    const made = await data(POST('/people/{member_id}/link', path))
    emit('link', made.link)
    emit('changed')
  })
</script>

<template>
  <div class="opened">
    <form
      v-if="!person.pseudonym"
      class="grid"
      novalidate
      :aria-label="say`Change ${person.name}`"
      @submit.prevent="change(person.active)"
    >
      <FormField :id="`name-${person.id}`" label="Name" :fault="fault('name')"
        ><InputText :id="`name-${person.id}`" v-model="form.name" :invalid="!!fault('name')" autocomplete="off"
      /></FormField>
      <FormField :id="`role-${person.id}`" label="Role" :fault="fault('role')"
        ><PickOne :id="`role-${person.id}`" v-model="form.role" :options="roles" :called="roleName"
      /></FormField>
      <PvButton class="low" type="submit" severity="secondary" label="Save" :disabled="busy" />
      <FormField :id="`pin-${person.id}`" label="New PIN, four digits" :fault="fault('pin')"
        ><InputText
          :id="`pin-${person.id}`"
          v-model="pin"
          inputmode="numeric"
          maxlength="4"
          :invalid="!!fault('pin')"
          autocomplete="off"
      /></FormField>
      <PvButton class="low" severity="secondary" label="Set PIN" :disabled="busy" @click="setPin(pin)" />
    </form>
    <p v-if="problem?.rest(['name', 'role', 'pin'])" class="fault" role="alert">
      {{ problem.rest(['name', 'role', 'pin']) }}
    </p>
    <div class="row">
      <PvButton
        v-if="person.active"
        text
        :label="person.joined ? say('Make a link for a new password') : say('Make a new invitation')"
        :disabled="busy"
        @click="makeLink"
      />
      <PvButton v-if="person.has_pin" text label="Remove PIN" :disabled="busy" @click="removePin" />
      <PvButton v-if="person.active" text label="Block access" :disabled="busy" @click="block" />
      <template v-else-if="!person.pseudonym">
        <PvButton text label="Allow access" :disabled="busy" @click="change(true)" />
        <PvButton text label="Replace the name by a pseudonym" :disabled="busy" @click="unname" />
      </template>
      <FileLinks
        :files="[{ label: say('All that is kept of them (JSON)'), href: `/api/v1/people/${person.id}/data` }]"
      />
    </div>
  </div>
</template>

<style scoped>
.opened {
  background: var(--surface);
  padding: 14px 16px;
}
.grid {
  display: grid;
  grid-template-columns: 1fr 180px auto 170px auto;
  gap: 14px;
  align-items: start;
}
.low {
  margin-top: 23px;
}
@media (max-width: 900px) {
  .grid {
    grid-template-columns: 1fr;
  }
  .low {
    margin-top: 0;
  }
}
</style>
