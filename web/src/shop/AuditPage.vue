<script setup lang="ts">
// Who changed what, newest first, and the same as a file.
import { computed, reactive, ref, watch } from 'vue'
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, type S } from '../api/client'
import { asProblem } from '../api/problem'
import { useLookingBack } from '../api/useLookingBack'
import { roleName, roles, useMe } from '../shell/me'
import { moment } from '../shell/moment'
import { typedDay } from '../stages/receive/typed'
import PickOne from '../components/PickOne.vue'
import { actionWords, changes, kinds } from './auditWords'

const { may } = useMe()
const form = reactive({ member: '', action: '', bench: '', text: '', from: '', to: '' })
const asked = ref<Record<string, string>>({})
let timer: ReturnType<typeof setTimeout> | undefined
watch(form, () => {
  clearTimeout(timer)
  timer = setTimeout(() => (asked.value = wanted()), 250)
})
function wanted(): Record<string, string> {
  const all = {
    ...form,
    text: form.text.trim(),
    from: form.from.trim() && typedDay(form.from),
    to: form.to.trim() && typedDay(form.to),
  }
  return Object.fromEntries(Object.entries(all).filter(([, v]) => v))
}
const { data: people } = useQuery({
  queryKey: ['people'],
  queryFn: () => data(GET('/people')),
  enabled: () => may('GET /people'),
})
const { data: benches } = useQuery({
  queryKey: ['benches'],
  queryFn: () => data(GET('/benches')),
  enabled: () => may('GET /benches'),
})
const trail = useInfiniteQuery({
  queryKey: ['audit', asked],
  initialPageParam: '',
  getNextPageParam: (p: S['AuditPage']) => p.next,
  queryFn: ({ pageParam }: { pageParam: string }) =>
    data(GET('/audit', { params: { query: { ...asked.value, ...(pageParam && { after: pageParam }) } } })),
})
const rows = computed(() => trail.data.value?.pages.flatMap((p) => p.rows) ?? [])
const { searchedTo } = useLookingBack(
  trail,
  () => rows.value.length,
  (p: S['AuditPage']) => p.searched_to,
)
const problem = computed(() => (trail.error.value ? asProblem(trail.error.value) : undefined))
const fault = (f: string) => problem.value?.at(f) ?? ''
const file = (format: string) => `/api/v1/audit/export?${new URLSearchParams({ format, ...asked.value })}`
const filtered = computed(() => Object.keys(asked.value).length > 0)
const clear = () => Object.assign(form, { member: '', action: '', bench: '', text: '', from: '', to: '' })
</script>

<template>
  <form class="filter no-print" aria-label="Which changes" @submit.prevent="asked = wanted()">
    <FormField id="who" label="Who"
      ><PickOne id="who" v-model="form.member" :options="people" none="everybody"
    /></FormField>
    <FormField id="what" label="What"
      ><PickOne id="what" v-model="form.action" :options="kinds" none="everything"
    /></FormField>
    <FormField id="at-bench" label="From bench"
      ><PickOne id="at-bench" v-model="form.bench" :options="benches" by="name" none="anywhere"
    /></FormField>
    <FormField id="from" label="From day" :fault="fault('from')"
      ><InputText id="from" v-model="form.from" autocomplete="off" placeholder="−7" :invalid="!!fault('from')"
    /></FormField>
    <FormField id="to" label="To day" :fault="fault('to')"
      ><InputText id="to" v-model="form.to" autocomplete="off" :invalid="!!fault('to')"
    /></FormField>
    <FormField id="text" label="Concerning" :fault="fault('text')"
      ><InputText id="text" v-model="form.text" autocomplete="off" placeholder="a lot, a product"
    /></FormField>
  </form>
  <div class="spread bar no-print">
    <span class="small"
      >Nothing here can be changed or taken out.
      <button v-if="filtered" type="button" class="link" @click="clear">Show everything</button></span
    >
    <span class="row"
      >All of these as <a :href="file('csv')" download>CSV</a> <a :href="file('xlsx')" download>XLSX</a>
      <a :href="file('json')" download>JSON</a></span
    >
  </div>
  <StateNote :error="trail.error.value" :loading="trail.isLoading.value" what="the changes" @retry="trail.refetch()" />
  <template v-if="!problem && trail.data.value">
    <p v-if="searchedTo" class="small" role="status">Looked back to {{ moment(searchedTo) }}, and still looking…</p>
    <p v-else-if="rows.length === 0" class="small">
      {{ filtered ? 'Nothing fits. Choose less, or show everything.' : 'Nothing has happened yet.' }}
    </p>
    <table v-if="rows.length" v-wide class="trail">
      <thead>
        <tr>
          <th>When</th>
          <th>Who</th>
          <th>Did</th>
          <th>To</th>
          <th>Was → became</th>
          <th>From</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(r, i) in rows" :key="i">
          <td class="when">{{ moment(r.at) }}</td>
          <td>
            {{ r.name || 'unknown'
            }}<span v-if="r.name !== roleName(r.role) && roles.includes(r.role)" class="small"
              >, {{ roleName(r.role).toLowerCase() }}</span
            >
          </td>
          <td>
            <strong>{{ actionWords(r.action) }}</strong>
          </td>
          <td>{{ r.subject_name || r.subject }}</td>
          <td>
            <span v-for="c in changes(r)" :key="c.what" class="change"
              ><span class="small">{{ c.what }}</span>
              <template v-if="c.was"
                ><s>{{ c.was }}</s> → </template
              >{{ c.became || 'nothing' }}</span
            >
          </td>
          <td class="small">{{ r.bench || r.address || (r.via === 'program' ? '' : r.via) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="trail.hasNextPage.value" class="more no-print">
      <PvButton
        severity="secondary"
        label="Older ones"
        :loading="trail.isFetchingNextPage.value"
        @click="trail.fetchNextPage()"
      />
    </p>
  </template>
</template>

<style scoped>
.filter {
  display: grid;
  grid-template-columns: 1.2fr 1.2fr 1fr 0.8fr 0.8fr 1.4fr;
  gap: 12px;
  align-items: start;
}
.bar {
  margin: 10px 0 6px;
  align-items: center;
}
.when {
  white-space: nowrap;
}
.change {
  margin-right: 12px;
}
s {
  color: var(--ink-2);
}
.link {
  border: 0;
  background: none;
  padding: 0;
  color: var(--act);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
}
.more {
  margin-top: 14px;
}
@media (max-width: 900px) {
  .filter {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
