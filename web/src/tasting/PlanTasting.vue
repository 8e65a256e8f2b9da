<script setup lang="ts">
// A tasting, planned: which muscles by which methods, how many eaters; the orders and the codes are the program's.
import { computed, reactive, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { useRouter } from 'vue-router'
import { keyOf } from '../api/keys'
import DayPick from '../components/DayPick.vue'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, POST, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { plainDay, shortName, today } from '../words/shown'
import TastePick from './TastePick.vue'
import PickOne from '../components/PickOne.vue'
import { pieceName } from '../words/pieceName'
import { useAtlasPieces } from '../atlas/useAtlasPieces'
import { typedDay } from '../words/typed'
import { say } from '../words/say'

const router = useRouter()
const queries = useQueryClient()
const { data: pieces, error, isLoading, refetch } = useAtlasPieces()
const piece = ref('beef.top_sirloin')
const { data: grades } = useQuery({
  queryKey: computed(() => keyOf('grades', piece.value)),
  queryFn: () => data(GET('/grades/{atlas_id}', { params: { path: { atlas_id: piece.value } } })),
})
const { data: recorded } = useQuery({
  queryKey: keyOf('recorded'),
  queryFn: () => data(GET('/breakdowns', { params: { query: { state: 'closed' } } })),
})
const fits = computed(
  () =>
    recorded.value?.breakdowns.filter((b) => {
      const p = pieces.value?.find((x) => x.id === piece.value)
      return b.piece === p?.house_name || b.piece === p?.name
    }) ?? [],
)
const from = ref('')
const form = reactive({ name: '', held_on: today(), eaters: '10' })
type Chosen = S['NewSample'] & { muscle: string; method_name: string; piece: string }
const samples = ref<Chosen[]>([])
const has = (part: string, method: string) =>
  samples.value.findIndex(
    (s) =>
      s.atlas_id === piece.value && s.part === part && s.method === method && (s.breakdown_id ?? '') === from.value,
  )
function toggle(m: S['PieceGrades']['muscles'][number], method: S['Method']) {
  const i = has(m.part, method.id)
  if (i >= 0) samples.value.splice(i, 1)
  else
    samples.value.push({
      atlas_id: piece.value,
      part: m.part,
      method: method.id,
      ...(from.value && { breakdown_id: from.value }),
      muscle: m.name,
      method_name: method.name,
      piece: grades.value?.name ?? '',
    })
}
const eaters = computed(() => Math.round(Number(form.eaters)) || 0)
const round = computed(() => (samples.value.length < 2 ? 1 : samples.value.length * (1 + (samples.value.length % 2))))
const balance = computed(() => {
  if (samples.value.length < 2 || eaters.value < 1) return ''
  const even = say('equally often in every place and after every other')
  const enough = Math.ceil(eaters.value / round.value) * round.value
  return eaters.value === enough
    ? say`Every sample stands ${even}.`
    : say`With ${enough} eaters every sample would stand ${even}; with ${eaters.value} nearly so.`
})
const { busy, problem, attempt } = useAttempt()
const fault = (f: string) => problem.value?.at(f) ?? ''
const plan = () =>
  attempt(async () => {
    const t = await data(
      POST('/tastings', {
        body: {
          name: form.name,
          held_on: typedDay(form.held_on),
          assessors: eaters.value,
          samples: samples.value.map(({ atlas_id, part, method, breakdown_id }) => ({
            atlas_id,
            part,
            method,
            ...(breakdown_id && { breakdown_id }),
          })),
        },
      }),
    )
    await queries.invalidateQueries({ queryKey: keyOf('tastings') })
    await router.push({ name: 'tasting', params: { tasting: t.id } })
  })

const cutOn = (b: { lot_number: string; closed_at?: string; started_at?: string }) =>
  `${b.lot_number}, ${plainDay((b.closed_at ?? b.started_at ?? '').slice(0, 10))}`
</script>

<template>
  <section class="page">
    <h1 class="sentence">
      {{
        samples.length
          ? say`${samples.length} ${samples.length === 1 ? say('sample') : say('samples')} for ${eaters || '…'} eaters.`
          : say('Select what is to be tasted: a muscle by a method.')
      }}
    </h1>
    <StateNote :error="error" :loading="isLoading" what="the atlas" @retry="refetch()" />
    <form class="lay" novalidate aria-label="A tasting" @submit.prevent="plan">
      <div>
        <div class="two">
          <FormField id="t-piece" label="Muscles of"
            ><PickOne
              id="t-piece"
              v-model="piece"
              :options="pieces"
              :called="pieceName"
              @update:model-value="from = ''"
          /></FormField>
          <FormField id="t-from" label="Cut from" hint="Its age then stands with the sample."
            ><PickOne id="t-from" v-model="from" :options="fits" :called="cutOn" none="(not recorded)"
          /></FormField>
        </div>
        <TastePick v-if="grades" :grades="grades" :has="(part, method) => has(part, method) >= 0" @toggle="toggle" />
      </div>
      <div class="side">
        <FormField id="t-name" label="Name" :fault="fault('name')"
          ><InputText
            id="t-name"
            v-model="form.name"
            maxlength="80"
            :invalid="!!fault('name')"
            autocomplete="off"
            placeholder="such as Rump, two ways"
        /></FormField>
        <div class="two">
          <FormField id="t-day" label="Held on" :fault="fault('held_on')"
            ><DayPick id="t-day" v-model="form.held_on" :invalid="!!fault('held_on')"
          /></FormField>
          <FormField id="t-eaters" label="Eaters" :fault="fault('eaters')"
            ><InputText
              id="t-eaters"
              v-model="form.eaters"
              inputmode="numeric"
              :invalid="!!fault('eaters')"
              autocomplete="off"
          /></FormField>
        </div>
        <p v-if="balance" class="small" data-test="balance">{{ balance }}</p>
        <ol class="chosen">
          <li v-for="(s, i) in samples" :key="i">
            <div>
              <span
                >{{ shortName(s.muscle) }}, {{ s.method_name.toLowerCase()
                }}<span v-if="s.atlas_id !== piece" class="small"> · {{ shortName(s.piece) }}</span></span
              ><button
                type="button"
                :aria-label="say`Leave ${s.muscle}, ${s.method_name} out`"
                @click="samples.splice(i, 1)"
              >
                ×
              </button>
            </div>
          </li>
        </ol>
        <p v-if="fault('samples')" class="fault" role="alert">{{ fault('samples') }}</p>
        <p class="small">
          No eater has to eat what they must not: ask for allergies first. Pieces are cooked to a safe centre for
          whoever eats them; local rules come first.
        </p>
        <PvButton type="submit" label="Plan it" :loading="busy" :disabled="!samples.length" data-test="plan-tasting" />
        <p v-if="problem && problem.rest(['name', 'held_on', 'eaters', 'samples'])" class="fault" role="alert">
          {{ problem.rest(['name', 'held_on', 'eaters', 'samples']) }}
        </p>
      </div>
    </form>
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0 16px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  gap: 32px;
  align-items: start;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
}
.side {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.chosen {
  margin: 0;
  padding-left: 22px;
}
.chosen li {
  border-bottom: 1px solid var(--hairline);
}
.chosen li > div {
  display: flex;
  align-items: center;
  justify-content: space-between;
}
.chosen button {
  min-width: 44px;
  min-height: 44px;
  border: 0;
  background: none;
  cursor: pointer;
  font-size: 18px;
}
@media (max-width: 1100px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
