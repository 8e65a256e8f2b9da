<script setup lang="ts">
// Which reports are shared by a link, and ending one before its time.
import { useQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import StateNote from '../components/StateNote.vue'
import { data, DELETE, GET } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import { moment } from '../words/shown'
import { say } from '../words/say'

const { me, may } = useMe()
const {
  data: list,
  error,
  isLoading,
  refetch,
} = useQuery({ queryKey: keyOf('shares'), enabled: () => may('GET /shares'), queryFn: () => data(GET('/shares')) })
const { busy, problem, attempt } = useAttempt()
const end = (id: string) =>
  attempt(async () => {
    await data(DELETE('/shares/{share_id}', { params: { path: { share_id: id } } }))
    await refetch()
  })
const words = { open: 'open', ended: say('ended'), expired: say('its time is over') }
</script>

<template>
  <p v-if="me && !may('GET /shares')">This page is not for your role. An owner of the shop can give you another.</p>
  <template v-else>
    <h1 class="sentence">
      {{
        list?.length
          ? say('What others can read by a link')
          : say('Nothing is shared. Every comparison, trial, carcass and best use has “Share by a link” below it.')
      }}
    </h1>
    <StateNote :error="error" :loading="isLoading" what="the shared reports" @retry="refetch()" />
    <table v-if="list?.length" v-wide data-test="shares">
      <thead>
        <tr>
          <th>Report</th>
          <th>Shared by</th>
          <th>On</th>
          <th>Until</th>
          <th>State</th>
          <th><span class="vh">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="s in list" :key="s.id">
          <td>
            <strong>{{ s.title }}</strong>
          </td>
          <td>{{ s.made_by }}</td>
          <td>{{ moment(s.created_at) }}</td>
          <td>{{ moment(s.expires_at) }}</td>
          <td>{{ words[s.state] }}</td>
          <td><PvButton v-if="s.state === 'open'" text label="End it" :disabled="busy" @click="end(s.id)" /></td>
        </tr>
      </tbody>
    </table>
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <p class="small">A link shows the report as it was when it was shared; what changed since is not in it.</p>
  </template>
</template>
