<script setup lang="ts">
// The same finding as a page, a workbook or JSON, and as a link that ends by itself.
import OnlyHere from '../components/OnlyHere.vue'
import FetchBar from '../components/FetchBar.vue'
import { ref } from 'vue'
import PvButton from 'primevue/button'
import { data, POST, type S } from '../api/client'
import { useDownload } from '../api/useDownload'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import PickOne from '../components/PickOne.vue'
import { counted } from '../words/say'
import { moment } from '../words/shown'

const props = defineProps<{ ask: S['ReportRequest'] }>()
const { may } = useMe()
const { busy, problem, attempt } = useAttempt()
const link = ref<S['ShareLink']>()
const days = ref(14)

const { busy: fetching, part, problem: failed, download } = useDownload()
const fetchFile = (format: string) =>
  download(`/api/v1/reports?format=${format}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(props.ask),
  })
const share = () =>
  attempt(async () => {
    link.value = await data(POST('/shares', { body: { report: props.ask, days: days.value } }))
  })

const inDays = (d: number) => counted(d, 'day')
</script>

<template>
  <div class="links no-print">
    <span class="row"
      >As
      <button
        v-for="f in ['pdf', 'xlsx', 'json']"
        :key="f"
        type="button"
        class="file"
        :disabled="fetching"
        @click="fetchFile(f)"
      >
        {{ f.toUpperCase() }}
      </button></span
    >
    <span v-if="may('POST /shares')" class="row"
      ><PvButton severity="secondary" label="Share by a link" :disabled="busy" @click="share" /><span class="small"
        >for <PickOne v-model="days" label="For how many days" :options="[1, 7, 14, 30, 90]" :called="inDays" /></span
    ></span>
    <FetchBar v-if="fetching" :part="part" label="The report is being made" />
    <p v-for="p in [problem, failed].filter((x) => !!x)" :key="p.message" class="fault" role="alert">
      {{ p.errors[0]?.message ?? p.message }}
    </p>
    <div v-if="link" class="made" role="status">
      Whoever has this link can read it until {{ moment(link.share.expires_at) }}; it is shown this once:
      <input
        readonly
        :value="link.link"
        aria-label="The link"
        data-test="link"
        @focus="($event.target as HTMLInputElement).select()"
      />
      <OnlyHere />
    </div>
  </div>
</template>

<style scoped>
.links {
  display: flex;
  gap: 12px 28px;
  flex-wrap: wrap;
  align-items: center;
  margin-top: 18px;
  padding-top: 12px;
  border-top: 1px solid var(--hairline);
}
.file {
  min-height: 44px;
  padding: 0 10px;
  border: 0;
  background: none;
  color: var(--ink);
  text-decoration: underline;
  text-underline-offset: 3px;
  cursor: pointer;
  font: inherit;
}
.made {
  flex-basis: 100%;
}
.made input {
  width: min(100%, 46ch);
  font: inherit;
  min-height: 40px;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 8px;
  background: var(--surface);
  color: var(--ink);
}
</style>
