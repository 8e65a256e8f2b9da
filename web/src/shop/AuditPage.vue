<script setup lang="ts">
// Who changed what, newest first, and the same as a file.
import { computed, ref, watch } from 'vue'
import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, type S } from '../api/client'
import { asProblem } from '../api/problem'
import { useLookingBack } from '../api/useLookingBack'
import { roleName, roles, useMe } from '../shell/me'
import { clockOf, dayOf, moment } from '../words/shown'
import { typedDay } from '../words/typed'
import DayPick from '../components/DayPick.vue'
import { useAddressForm } from '../components/useAddressForm'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import { filesIn } from '../components/entries'
import FileLinks from '../components/FileLinks.vue'
import PickOne from '../components/PickOne.vue'
import { actionWords, changes, kinds } from './auditWords'
import { say } from '../words/say'

const { may } = useMe()
const form = useAddressForm({ member: '', action: '-session', bench: '', text: '', from: '', to: '' })
const asked = ref<Record<string, string>>(wanted())
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
  queryKey: keyOf('people'),
  queryFn: () => data(GET('/people')),
  enabled: () => may('GET /people'),
})
const { data: benches } = useQuery({
  queryKey: keyOf('benches'),
  queryFn: () => data(GET('/benches')),
  enabled: () => may('GET /benches'),
})
const trail = useInfiniteQuery({
  queryKey: keyOf('audit', asked),
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
const files = computed(() => filesIn(['csv', 'xlsx', 'json'], file))
const filtered = computed(() => Object.keys(asked.value).length > 0)
const columns: ListColumn<S['AuditRow']>[] = [
  { id: 'when', head: say('At') },
  { id: 'who', head: say('Who') },
  { id: 'did', head: say('Did') },
  { id: 'to', head: say('To') },
  { id: 'what', head: say('Was → became') },
  { id: 'from', head: say('From') },
]
const clear = () => Object.assign(form, { member: '', action: '', bench: '', text: '', from: '', to: '' })
</script>

<template>
  <form class="filter no-print" aria-label="Which changes" @submit.prevent="asked = wanted()">
    <FormField id="who" label="Who"
      ><PickOne id="who" v-model="form.member" :options="people" none="everybody"
    /></FormField>
    <FormField id="what" label="What"
      ><PickOne id="what" v-model="form.action" :options="kinds" none="Everything"
    /></FormField>
    <FormField id="at-bench" label="From bench"
      ><PickOne id="at-bench" v-model="form.bench" :options="benches" by="name" none="anywhere"
    /></FormField>
    <FormField id="from" label="From day" :fault="fault('from')"
      ><DayPick id="from" v-model="form.from" lazy placeholder="−7" :invalid="!!fault('from')"
    /></FormField>
    <FormField id="to" label="To day" :fault="fault('to')"
      ><DayPick id="to" v-model="form.to" lazy :invalid="!!fault('to')"
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
    <FileLinks lead="All of these as" :files="files" />
  </div>
  <StateNote :error="trail.error.value" :loading="trail.isLoading.value" what="the changes" @retry="trail.refetch()" />
  <template v-if="!problem && trail.data.value">
    <p v-if="searchedTo" class="small" role="status">Looked back to {{ moment(searchedTo) }}, and still looking…</p>
    <p v-else-if="rows.length === 0" class="small">
      {{ filtered ? say('Nothing fits. Choose less, or show everything.') : say('Nothing has happened yet.') }}
    </p>
    <ListTable
      v-if="rows.length"
      :rows="rows"
      :columns="columns"
      :row-key="(_, i) => String(i)"
      data-test="trail"
      :group="(r) => dayOf(r.at)"
      :page-size="200"
      part
      label="Who changed what"
    >
      <template #when="{ row: r }"
        ><span class="when">{{ clockOf(r.at) }}</span></template
      >
      <template #who="{ row: r }"
        >{{ r.name || say('unknown')
        }}<span v-if="r.name !== roleName(r.role) && roles.includes(r.role)" class="small"
          >, {{ roleName(r.role).toLowerCase() }}</span
        ></template
      >
      <template #did="{ row: r }"
        ><strong>{{ actionWords(r.action) }}</strong></template
      >
      <template #to="{ row: r }">{{ r.subject_name || r.subject }}</template>
      <template #what="{ row: r }"
        ><span v-for="c in changes(r)" :key="c.what" class="change"
          ><span class="small">{{ c.what }}</span>
          <template v-if="c.was"
            ><s>{{ c.was }}</s> → </template
          >{{ c.became || say('nothing') }}</span
        ></template
      >
      <template #from="{ row: r }"
        ><span class="small">{{ r.bench || r.address || (r.via === 'program' ? '' : r.via) }}</span></template
      >
    </ListTable>
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
