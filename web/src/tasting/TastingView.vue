<script setup lang="ts">
// A tasting: its sheets to print and links to hand out, the paper typed in, and what it says.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import { filesIn } from '../components/entries'
import FileLinks from '../components/FileLinks.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { data, fileBody, GET, POST, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import { plainDay, shortName } from '../words/shown'
import { gradeName } from '../grades/grades'
import CrossOver from './CrossOver.vue'
import PaperEntry from './PaperEntry.vue'
import ShearForm from './ShearForm.vue'
import { counted, say } from '../words/say'
import FilePick from '../components/FilePick.vue'
import { useTitle } from '../shell/title'

const props = defineProps<{ tasting: string }>()
const queries = useQueryClient()
const { may } = useMe()
const path = { tasting_id: props.tasting }
const {
  data: t,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: keyOf('tasting', props.tasting),
  queryFn: () => data(GET('/tastings/{tasting_id}', { params: { path } })),
  refetchInterval: (q) => (q.state.data?.state === 'open' ? 5_000 : false),
})
const pages = [say('what it says'), say('type sheets in'), 'eaters']
const page = ref(pages[0]!)
const files = computed(() => filesIn(['csv', 'xlsx'], (f) => `/api/v1/tastings/${props.tasting}/export?format=${f}`))
const { busy, problem, attempt } = useAttempt()
const reason = ref('')
const voiding = ref(false)
function took(v: S['Tasting']) {
  queries.setQueryData(keyOf('tasting', props.tasting), v)
  void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'tasting' })
}
const turn = (state: S['Tasting']['state']) =>
  attempt(async () => {
    const v = t.value!
    took(
      await data(
        PUT('/tastings/{tasting_id}', {
          params: { path },
          body: {
            name: v.name,
            held_on: v.held_on,
            state,
            version: v.version,
            ...(state === 'void' && { reason: reason.value.trim() }),
          },
        }),
      ),
    )
    voiding.value = false
  })
const picked = (file: File) =>
  attempt(async () => {
    took(
      await data(
        POST('/tastings/{tasting_id}/sheets', {
          params: { path },
          ...fileBody(file),
        }),
      ),
    )
  })
const sheets = computed(() => t.value?.sheets.length ?? 0)
const due = computed(() => (t.value ? t.value.samples.length * t.value.assessors : 0))
const ranked = computed(() =>
  [...(t.value?.samples ?? [])].sort((a, b) => (b.result?.score ?? -1) - (a.result?.score ?? -1)),
)
const best = computed(() => ranked.value[0])
const sentence = computed(() => {
  const v = t.value
  if (!v) return ''
  if (v.state === 'void') return say`Void: ${v.reason}`
  if (!best.value?.result) return say`No sheet is complete yet; ${due.value} are due.`
  const r = best.value.result
  const cut = say`${shortName(best.value.muscle)} by ${best.value.method_name.toLowerCase()}`
  const by = counted(r.complete, 'eater')
  return say`${cut} ate best: ${r.score.toFixed(1)} of 100, ${gradeName(r.grade)}, by ${by}.`
})
const odd = computed(() => t.value?.places.filter((p) => p.flag) ?? [])
const missing = computed(() => t.value?.samples.filter((s) => s.result && s.result.n > s.result.complete) ?? [])
const flags = { flat: say('hardly tells the samples apart'), contrary: say('ranks them against the others') } as const

useTitle(() => t.value?.name)

/** How the means were taken, in words. */
const leftOut = computed(() => {
  const n = t.value?.samples[0]?.result?.dropped_each_end ?? 0
  if (!n) return say('Means of all eaters: where there are fewer than five, none is left out.')
  const ends = n === 1 ? say('the highest and the lowest') : say`the ${n} highest and the ${n} lowest`
  return say`Means leave out ${ends} (a fifth of the eaters at each end), of each attribute and of the score by itself.`
})
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the tasting" @retry="refetch()" />
    <template v-if="t">
      <p class="label">
        {{ t.name }} · {{ plainDay(t.held_on) }} · {{ t.assessors }} eaters, {{ t.samples.length }} samples ·
        {{ sheets }} of {{ due }} sheets in
      </p>
      <h1 class="sentence big" data-test="tasting-sentence">{{ sentence }}</h1>
      <div class="row bar no-print">
        <UnitToggle v-model="page" :options="pages" label="Part of the tasting" />
        <span class="row files"
          >To print: <a :href="`/api/v1/tastings/${t.id}/sheets.pdf`" target="_blank">score sheets</a>
          <a :href="`/api/v1/tastings/${t.id}/serving.pdf`" target="_blank">the kitchen’s sheet</a> · as
          <FileLinks :files="files" />
          <FilePick
            v-if="t.state === 'open' && may('POST /tastings/{tasting_id}/sheets')"
            link
            label="Import sheets"
            @picked="picked"
        /></span>
        <template v-if="may('PUT /tastings/{tasting_id}')">
          <PvButton
            v-if="t.state === 'open'"
            label="Close tasting and use the scores"
            :disabled="busy"
            data-test="close-tasting"
            @click="turn('closed')"
          />
          <PvButton v-else severity="secondary" label="Reopen" :disabled="busy" @click="turn('open')" />
          <PvButton v-if="t.state !== 'void' && !voiding" text label="Void tasting" @click="voiding = true" />
        </template>
      </div>
      <form v-if="voiding" class="row" novalidate @submit.prevent="reason.trim() && turn('void')">
        <input
          v-model="reason"
          class="reason"
          maxlength="200"
          placeholder="why it must not count"
          aria-label="Why it must not count"
        /><PvButton type="submit" severity="secondary" label="Void it" :disabled="!reason.trim() || busy" /><PvButton
          text
          label="Cancel"
          @click="voiding = false"
        />
      </form>
      <p v-if="problem" class="fault" role="alert">
        {{ problem.message }} <PvButton v-if="problem.status === 409" text label="Load it again" @click="refetch()" />
      </p>

      <template v-if="page === pages[0]">
        <div class="lay">
          <table v-wide data-test="results">
            <thead>
              <tr>
                <th>Sample</th>
                <th class="n">Tender</th>
                <th class="n">Juicy</th>
                <th class="n">Flavour</th>
                <th class="n">All in all</th>
                <th class="n">Score</th>
                <th>Grade</th>
                <th>The house’s grade</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="s in ranked" :key="s.code">
                <td>
                  <strong>{{ shortName(s.muscle) }}</strong>, {{ s.method_name.toLowerCase()
                  }}<span class="small under"
                    >{{ s.code }}<template v-if="s.from"> · {{ s.from }}</template
                    ><template v-if="s.age_days !== undefined"> · day {{ s.age_days }}</template></span
                  >
                </td>
                <template v-if="s.result"
                  ><td v-for="a in ['tenderness', 'juiciness', 'flavour', 'overall'] as const" :key="a" class="n">
                    {{ s.result[a].toFixed(0) }}
                  </td>
                  <td class="n">
                    <strong>{{ s.result.score.toFixed(1) }}</strong><span class="small under"
                      >± {{ s.result.sd.toFixed(0) }}, n {{ s.result.complete }}</span
                    >
                  </td>
                  <td>{{ gradeName(s.result.grade) }}</td>
                  <td>
                    {{ s.before!.score.toFixed(0) }} → <strong>{{ s.after!.score.toFixed(0) }}</strong>,
                    {{ gradeName(s.after!.grade)
                    }}<span v-if="s.before!.grade !== s.after!.grade" class="fault">
                      was {{ gradeName(s.before!.grade) }}</span
                    >
                  </td></template
                >
                <td v-else colspan="7" class="small">no complete sheet yet</td>
              </tr>
            </tbody>
          </table>
          <CrossOver :samples="t.samples" />
        </div>
        <p class="small note">
          {{ leftOut }} ± is the spread of all.
          {{ t.state === 'closed' ? say('It counts.') : say('It counts for the house’s grades once it is closed.') }}
        </p>
        <p v-for="s in missing" :key="`m${s.code}`" class="small">
          {{ s.code }}: {{ s.result!.n - s.result!.complete }} of {{ s.result!.n }} sheets lack a mark; they count for
          what is marked, and not for the score.
        </p>
        <p v-for="p in odd" :key="p.number" class="small">
          <strong>Eater {{ p.number }} {{ flags[p.flag!] }}</strong> (agreement {{ p.agreement?.toFixed(2) ?? '–' }},
          spread {{ p.spread.toFixed(0) }}). Flagged, not left out.
        </p>
        <ShearForm :tasting="t" @done="took" />
      </template>
      <PaperEntry v-else-if="page === pages[1]" :tasting="t" @done="took" />
      <table v-else v-wide data-test="eaters">
        <thead>
          <tr>
            <th>Eater</th>
            <th>Page on a phone</th>
            <th>Order of tasting</th>
            <th class="n">Sheets</th>
            <th class="n">Mean</th>
            <th class="n">Spread</th>
            <th class="n">Agreement</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in t.places" :key="p.number">
            <td>{{ p.number }}</td>
            <td>
              <a v-if="p.link" :href="`/taste/${p.link}`" target="_blank">{{ p.link }}</a><span v-else class="small"
                >–</span
              >
            </td>
            <td>{{ p.order.map((n) => t!.samples[n - 1]?.code).join(' ') }}</td>
            <td class="n">{{ p.samples }}</td>
            <td class="n">{{ p.samples ? p.mean.toFixed(0) : '' }}</td>
            <td class="n">{{ p.samples > 1 ? p.spread.toFixed(0) : '' }}</td>
            <td class="n">
              {{ p.agreement?.toFixed(2) ?? '' }} <span v-if="p.flag" class="fault">{{ flags[p.flag] }}</span>
            </td>
          </tr>
        </tbody>
      </table>
    </template>
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0 14px;
}
.bar {
  margin-bottom: 14px;
}
.files {
  font-size: 13px;
  gap: 8px;
  margin-right: auto;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  gap: 28px;
  align-items: start;
}
.under {
  display: block;
}
.note {
  margin: 12px 0 6px;
}
.reason {
  font: inherit;
  min-height: 44px;
  flex: 1;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 10px;
  background: var(--surface);
  color: var(--ink);
}
@media (max-width: 1000px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
