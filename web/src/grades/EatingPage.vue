<script setup lang="ts">
// How grades are made: what is trusted how far, and what moves an estimate. And scores of a supplier or programme, read
// in from a sheet.
import { computed, reactive, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { data, GET, POST, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import GivenImport from './GivenImport.vue'
import { counted, say } from '../words/say'
import { gradeName } from './grades'

const queries = useQueryClient()
const { may } = useMe()
const {
  data: set,
  error,
  isLoading,
  refetch,
} = useQuery({ queryKey: keyOf('eating'), queryFn: () => data(GET('/eating')) })
type Field = Exclude<keyof S['EatingSettings'], 'weights' | 'version'>
const fields: { id: Field; label: string; basis: string }[] = [
  {
    id: 'prior_sd',
    label: say('Spread of the atlas’ estimates, points'),
    basis: say('How far an estimate may be off, as a standard deviation.'),
  },
  {
    id: 'given_sd',
    label: say('Spread of supplier scores, points'),
    basis: say('How far a supplier’s or programme’s score may be off for our meat.'),
  },
  {
    id: 'assessor_sd',
    label: say('Spread of one eater about the panel, points'),
    basis: say('The larger, the more eaters it takes to move a grade.'),
  },
  {
    id: 'beef_ageing',
    label: say('What ageing brings beef in all, points'),
    basis: say(
      'Towards a plateau, half of the rest every 6 days; the atlas holds at day 14. Quick and dry methods only. ' +
        'Common practice, no source.',
    ),
  },
  {
    id: 'lamb_ageing',
    label: say('What ageing brings lamb in all, points'),
    basis: say('Half of the rest every 2.5 days; the atlas holds at day 5. Common practice, no source.'),
  },
  {
    id: 'hip',
    label: say('Hung by the hip bone, points'),
    basis: say('For muscles of the hindquarter. Common practice, no source.'),
  },
  { id: 'grain', label: say('Finished on grain, points'), basis: say('Cattle. Common practice, no source.') },
  {
    id: 'marbling_step',
    label: say('Each step of marbling above 1, points'),
    basis: say('Where the lot’s marbling is a number. Common practice, no source.'),
  },
  {
    id: 'lamb_lean_step',
    label: say('Each % of lean-meat yield above 60, points'),
    basis: say('Lamb; below zero, for the leanest lambs eat worst. Common practice, no source.'),
  },
  {
    id: 'lamb_fat_step',
    label: say('Each % of fat within the muscle above 4, points'),
    basis: say('Lamb. Common practice, no source.'),
  },
  {
    id: 'week_loss_pct',
    label: say('Weight lost in a week of waiting, %'),
    basis: say('In its bag. Common practice, no source; better your own.'),
  },
  { id: 'store_per_kg_day', label: say('Cold store, a kg and day'), basis: say('In the shop’s currency.') },
]
const form = reactive<Record<string, string>>({ weights: 'current' })
watch(
  set,
  (s) => {
    if (s) for (const [k, v] of Object.entries(s)) form[k] = String(v)
  },
  { immediate: true },
)
const { busy, problem, attempt } = useAttempt()
const moved = ref<S['EatingChanged']['moved']>()
const own = computed(() => may('PUT /eating'))
const number = (t: string | undefined) => Number((t ?? '').replace(',', '.').replace('\u2212', '-') || NaN)
const asked = (): S['EatingSettings'] => ({
  weights: form.weights!,
  ...(Object.fromEntries(
    fields.map((f) => [f.id, Number.isFinite(number(form[f.id])) ? number(form[f.id]) : -999]),
  ) as Record<Field, number>),
  version: set.value!.version,
})
/** What was asked before anything is kept. */
const saved = ref(false)
const preview = () =>
  attempt(async () => {
    moved.value = undefined
    moved.value = await data(POST('/eating/preview', { body: asked() }))
    saved.value = false
  })
const save = () =>
  attempt(async () => {
    moved.value = undefined
    const done = await data(PUT('/eating', { body: asked() }))
    saved.value = true
    queries.setQueryData(keyOf('eating'), done.settings)
    moved.value = done.moved ?? []
    await queries.invalidateQueries()
  })
</script>

<template>
  <section class="page">
    <p class="label">
      <RouterLink :to="{ name: 'grades' }">Grades</RouterLink> ·
      <RouterLink :to="{ name: 'tastings' }">Tastings</RouterLink>
    </p>
    <h1 class="sentence">
      A grade is the atlas’ estimate, moved by what is known of the animal, by supplier scores and by our own eaters,
      each weighed by how far it can be trusted.
    </h1>
    <StateNote :error="error" :loading="isLoading" what="the settings" @retry="refetch()" />
    <form v-if="set" class="lay" novalidate aria-label="How grades are made" @submit.prevent="save">
      <fieldset :disabled="!own || busy">
        <div class="field">
          <span class="label">Weights of tenderness, juiciness, flavour, all in all</span
          ><UnitToggle v-model="form.weights!" :options="['current', 'older']" label="Weights of the attributes" />
          <p class="small">Current 0.3 / 0.1 / 0.3 / 0.3; older work used 0.4 / 0.1 / 0.2 / 0.3.</p>
        </div>
        <FormField
          v-for="f in fields"
          :id="f.id"
          :key="f.id"
          :label="f.label"
          :fault="problem?.at(f.id)"
          :hint="f.basis"
          ><InputText
            :id="f.id"
            v-model="form[f.id]"
            inputmode="decimal"
            :invalid="!!problem?.at(f.id)"
            autocomplete="off"
        /></FormField>
      </fieldset>
      <div class="row">
        <PvButton v-if="own" type="submit" label="Save and recalculate grades" :loading="busy" data-test="regrade" />
        <PvButton
          v-if="own"
          severity="secondary"
          label="What would move?"
          :disabled="busy"
          data-test="preview"
          @click="preview"
        />
        <p v-else class="small">An owner of the shop can change these.</p>
      </div>
      <p v-if="problem?.rest(fields.map((f) => f.id))" class="fault" role="alert">
        {{ problem.rest(fields.map((f) => f.id)) }}
        <PvButton v-if="problem.status === 409" text label="Load it again" @click="refetch()" />
      </p>
      <div v-if="moved" role="status" data-test="moved">
        <p>
          <strong>{{
            `${saved ? say('Saved. ') : say('Not saved yet. ')}` +
            (moved.length
              ? `${counted(moved.length, 'grade')} ${saved ? say('moved') : say('would move')}:`
              : say('No grade moves.'))
          }}</strong>
        </p>
        <ul class="small">
          <li v-for="m in moved" :key="m.piece + m.muscle + m.method">
            {{ m.muscle }}, {{ m.method.toLowerCase() }} ({{ m.piece }}): {{ gradeName(m.was.grade) }} →
            {{ gradeName(m.became.grade) }} ({{ m.was.score.toFixed(0) }} → {{ m.became.score.toFixed(0) }})
          </li>
        </ul>
      </div>
    </form>
    <GivenImport v-if="may('POST /given/import')" />
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0 18px;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0 0 14px;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(280px, 1fr));
  gap: 16px 32px;
}
.field {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
ul {
  margin: 6px 0;
  padding-left: 20px;
  max-height: 300px;
  overflow-y: auto;
}
</style>
