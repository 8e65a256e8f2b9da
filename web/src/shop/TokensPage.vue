<script setup lang="ts">
// Tokens with which scripts come in.
import { computed, reactive, shallowRef, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import DayPick from '../components/DayPick.vue'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { data, DELETE, GET, POST, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { moment } from '../words/shown'
import { useShop } from '../shell/shop'
import { isDay, typedDay } from '../words/typed'
import ShownOnce from './ShownOnce.vue'
import { say } from '../words/say'

const queries = useQueryClient()
const { shop } = useShop()
const {
  data: tokens,
  error,
  isLoading,
  refetch,
} = useQuery({ queryKey: keyOf('tokens'), queryFn: () => data(GET('/tokens')) })
const { busy, problem, attempt } = useAttempt()
const { done, ask } = useFeedback()
const form = reactive({ name: '', scopes: ['read'] as string[], ends: '' })
const made = shallowRef<S['MadeToken']>()
watch(form, () => (problem.value = undefined))
const fault = (f: string) => problem.value?.at(f) ?? ''
const scopeName = (id: string) => shop.value?.scopes.find((s) => s.id === id)?.name ?? id
const holding = computed(() => tokens.value?.filter((t) => t.holds).length ?? 0)

const make = () =>
  attempt(async () => {
    const ends = form.ends.trim() ? typedDay(form.ends) : ''
    made.value = await data(
      POST('/tokens', { body: { name: form.name, scopes: form.scopes, ...(ends && { ends_on: ends }) } }),
    )
    Object.assign(form, { name: '', scopes: ['read'], ends: '' })
    await queries.invalidateQueries({ queryKey: keyOf('tokens') })
  })
const revoke = async (t: S['Token']) => {
  const sure = await ask({
    title: say`Revoke ${t.name}?`,
    text: say('Whatever uses this token is refused from now on. It cannot be given back; a new one can be made.'),
    yes: say('Revoke token'),
  })
  if (!sure) return
  await attempt(async () => {
    await data(DELETE('/tokens/{token_id}', { params: { path: { token_id: t.id } } }))
    done(say`${t.name} is revoked.`)
    await queries.invalidateQueries({ queryKey: keyOf('tokens') })
  })
}
function state(t: S['Token']) {
  if (t.revoked_at) return say`revoked ${moment(t.revoked_at)}`
  if (!t.holds) return say`ended ${moment(t.ends_at!)}`
  return t.ends_at ? say`until ${moment(t.ends_at)}` : say('until revoked')
}
</script>

<template>
  <StateNote :error="error" :loading="isLoading" what="the tokens" @retry="refetch()" />
  <template v-if="tokens">
    <p class="sentence lead">
      {{
        holding
          ? say`${holding} token${holding > 1 ? 's' : ''} let${holding > 1 ? '' : 's'} scripts in.`
          : say('No access tokens yet.')
      }}
    </p>
    <ShownOnce
      v-if="made"
      :title="say`The token ${made.token.name}`"
      :secret="made.secret"
      says="Keep it where the script reads it, in no chat and no sheet. It is not shown again."
      @done="made = undefined"
    />
    <p v-if="problem?.rest(['name', 'scopes', 'ends_on'])" class="fault" role="alert">
      {{ problem.rest(['name', 'scopes', 'ends_on']) }}
    </p>
    <div class="lay">
      <div>
        <table v-if="tokens.length" v-wide>
          <thead>
            <tr>
              <th>Name</th>
              <th>Begins with</th>
              <th>May</th>
              <th>Holds</th>
              <th>Last used</th>
              <th><span class="vh">Change</span></th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="t in tokens" :key="t.id" :class="{ gone: !t.holds }">
              <td>
                <strong>{{ t.name }}</strong>
              </td>
              <td>{{ t.hint }}…</td>
              <td>{{ t.scopes.map(scopeName).join(', ') }}</td>
              <td>{{ state(t) }}</td>
              <td>{{ t.used_at ? moment(t.used_at) : say('never') }}</td>
              <td class="n">
                <PvButton
                  v-if="t.holds"
                  text
                  label="Revoke"
                  :aria-label="say`Revoke ${t.name}`"
                  :disabled="busy"
                  @click="revoke(t)"
                />
              </td>
            </tr>
          </tbody>
        </table>
        <p v-else class="small">
          A token lets a script read the shop's lists, book at a bench or use the calculators, as far as its scopes go.
          Make one, and send it as <kbd>Authorization: Bearer …</kbd>; the addresses are described at
          <a href="/api/v1/openapi.yaml">/api/v1/openapi.yaml</a>.
        </p>
      </div>
      <form class="stack" novalidate aria-label="A new token" @submit.prevent="make">
        <h2>A new token</h2>
        <FormField id="token-name" label="Name, such as what uses it" :fault="fault('name')"
          ><InputText id="token-name" v-model="form.name" :invalid="!!fault('name')" autocomplete="off"
        /></FormField>
        <fieldset>
          <legend class="label">Permissions</legend>
          <label v-for="s in shop?.scopes" :key="s.id" class="tick"
            ><input v-model="form.scopes" type="checkbox" :value="s.id" /> {{ s.name }}</label
          >
          <p v-if="fault('scopes')" class="fault" role="alert">{{ fault('scopes') }}</p>
        </fieldset>
        <FormField
          id="token-ends"
          label="Last day, if it ends"
          :fault="fault('ends_on')"
          :hint="isDay(typedDay(form.ends)) ? typedDay(form.ends) : say('A day such as 2027-01-31')"
          ><DayPick id="token-ends" v-model="form.ends" :invalid="!!fault('ends_on')"
        /></FormField>
        <PvButton type="submit" label="Create token" :loading="busy" />
      </form>
    </div>
  </template>
</template>

<style scoped>
.lead {
  margin-bottom: 14px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 48px;
  align-items: start;
}
.gone td {
  color: var(--ink-2);
}
td {
  vertical-align: middle;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 12px 0 0;
}
@media (max-width: 1000px) {
  .lay {
    grid-template-columns: 1fr;
  }
}
</style>
