<script setup lang="ts">
// Who is in the shop and what each may do.
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, POST, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { roleName, roles, useMe } from '../shell/me'
import { useOutside } from '../shell/outside'
import OnlyHere from '../components/OnlyHere.vue'
import PersonForm from './PersonForm.vue'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import ShownOnce from './ShownOnce.vue'
import PickOne from '../components/PickOne.vue'
import { counted, say } from '../words/say'

const queries = useQueryClient()
const { me, changed } = useMe()
const {
  data: people,
  error,
  isLoading,
  refetch,
} = useQuery({ queryKey: keyOf('people'), queryFn: () => data(GET('/people')) })
const { busy, problem, attempt } = useAttempt()
const form = reactive({ name: '', email: '', role: 'cutter', pin: '' })
const opened = ref('')
const link = shallowRef<{ name: string; secret: string }>()
watch(form, () => (problem.value = undefined))
const fault = (f: string) => problem.value?.at(f) ?? ''
const { address: outside } = useOutside()
const address = (token: string) => `${outside.value}/welcome#${token}`
const here = computed(() => people.value?.filter((p) => p.active) ?? [])
const left = computed(() => people.value?.filter((p) => !p.active) ?? [])
const sentence = computed(() => {
  const pins = here.value.filter((p) => p.has_pin).length
  return say`${counted(here.value.length, 'person', 'people')}, ${pins} with a PIN for the benches.`
})

const rowKey = (p: S['Person']) => p.id + p.version
const groupOf = (p: S['Person']) => (p.active ? say('In the shop') : say('No longer here; what they did stays'))
const passwordOf = (p: S['Person']) =>
  p.pseudonym ? '–' : !p.joined ? 'invited' : p.has_password ? 'chosen' : say('not yet')
const columns: ListColumn<S['Person']>[] = [
  { id: 'name', head: say('Name') },
  { id: 'role', head: say('Role') },
  { id: 'email', head: say('Signs in as') },
  { id: 'pin', head: 'PIN' },
  { id: 'password', head: say('Password') },
  { id: 'change', head: say('Change'), number: true },
]

const add = () =>
  attempt(async () => {
    const { pin, ...rest } = form
    const made = await data(POST('/people', { body: { ...rest, ...(pin && { pin }) } }))
    link.value = made.link ? { name: made.person.name, secret: address(made.link) } : undefined
    Object.assign(form, { name: '', email: '', role: 'cutter', pin: '' })
    await queries.invalidateQueries({ queryKey: keyOf('people') })
  })
async function again(p?: S['Person']) {
  opened.value = ''
  await refetch()
  if (!p || p.id === me.value?.id) await changed()
}
</script>

<template>
  <StateNote :error="error" :loading="isLoading" what="the people" @retry="refetch()" />
  <template v-if="people">
    <p class="sentence lead">{{ sentence }}</p>
    <ShownOnce
      v-if="link"
      :title="say`A link for ${link.name}`"
      :secret="link.secret"
      says="For them alone: good once, for 72 hours, not shown again. They choose a password or use the one they have."
      @done="link = undefined"
    />
    <OnlyHere v-if="link" />
    <ListTable
      class="people"
      :rows="[...here, ...left]"
      :columns="columns"
      :row-key="rowKey"
      :group="left.length ? groupOf : undefined"
      :opened="opened"
      label="People"
    >
      <template #name="{ row: p }"
        ><strong>{{ p.name }}</strong
        ><span v-if="p.id === me?.id" class="small"> you</span></template
      >
      <template #role="{ row: p }">{{ roleName(p.role) }}</template>
      <template #email="{ row: p }">{{ p.email || '–' }}</template>
      <template #pin="{ row: p }">{{ p.has_pin ? say('set') : '–' }}</template>
      <template #password="{ row: p }">{{ passwordOf(p) }}</template>
      <template #change="{ row: p }"
        ><PvButton
          text
          :label="opened === rowKey(p) ? say('Close') : say('Change')"
          :aria-expanded="opened === rowKey(p)"
          :aria-label="`${opened === rowKey(p) ? say('Close') : say('Change')} ${p.name}`"
          @click="opened = opened === rowKey(p) ? '' : rowKey(p)"
      /></template>
      <template #opened="{ row: p }"
        ><PersonForm :person="p" @changed="again(p)" @link="(t) => (link = { name: p.name, secret: address(t) })"
      /></template>
    </ListTable>
    <form class="add" novalidate aria-label="Somebody new" @submit.prevent="add">
      <h2>Somebody new</h2>
      <div class="grid">
        <FormField id="new-name" label="Name" :fault="fault('name')"
          ><InputText id="new-name" v-model="form.name" :invalid="!!fault('name')" autocomplete="off"
        /></FormField>
        <FormField id="new-email" label="Address to sign in with" :fault="fault('email')"
          ><InputText id="new-email" v-model="form.email" type="email" :invalid="!!fault('email')" autocomplete="off"
        /></FormField>
        <FormField id="new-role" label="Role" :fault="fault('role')"
          ><PickOne id="new-role" v-model="form.role" :options="roles" :called="roleName"
        /></FormField>
        <FormField id="new-pin" label="PIN, if wanted" :fault="fault('pin')"
          ><InputText
            id="new-pin"
            v-model="form.pin"
            inputmode="numeric"
            maxlength="4"
            :invalid="!!fault('pin')"
            autocomplete="off"
        /></FormField>
      </div>
      <p v-if="problem?.rest(['name', 'email', 'role', 'pin'])" class="fault" role="alert">
        {{ problem.rest(['name', 'email', 'role', 'pin']) }}
      </p>
      <PvButton type="submit" label="Add" :loading="busy" />
    </form>
  </template>
</template>

<style scoped>
.lead {
  margin-bottom: 14px;
}
.add {
  margin-top: 28px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  align-items: flex-start;
}
.grid {
  display: grid;
  grid-template-columns: 1fr 1.3fr 160px 130px;
  gap: 14px;
  width: 100%;
  align-items: start;
}
@media (max-width: 900px) {
  .grid {
    grid-template-columns: 1fr;
  }
}
</style>
