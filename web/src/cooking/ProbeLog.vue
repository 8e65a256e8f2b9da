<script setup lang="ts">
// A probe's log against 70 °C for two minutes and the safe floor: read from a file, or followed live at a bench's
// thermometer.
import { computed, onScopeDispose, ref, shallowRef } from 'vue'
import PvButton from 'primevue/button'
import { data, fileBody, POST, type S } from '../api/client'
import { listen } from '../api/stream'
import { useAttempt } from '../api/useAttempt'
import ChartFrame from '../charts/ChartFrame.vue'
import { probeChart } from './probeChart'
import FilePick from '../components/FilePick.vue'
import { useShop } from '../shell/shop'
import { say } from '../words/say'

const { shop, temperature } = useShop()
const wanted = ref('63') // the floor of whole cuts
const kg = ref('1')
const treated = ref(false)
const run = shallowRef<S['ProbeRun']>()
const { problem, attempt } = useAttempt()
const number = (t: string) => Number(t.replace(',', '.')) || 0
const about = () => ({
  target_core_c: number(wanted.value),
  weight_g: number(kg.value) * 1000,
  ...(treated.value && { treated: true }),
})
const read = (file: File) =>
  attempt(async () => {
    run.value = await data(
      POST('/cooking/probe/import', {
        params: { query: about() },
        ...fileBody(file),
      }),
    )
  })
/** Followed live: a sounding a second, worked out every five. */
const following = ref('')
let deaf: (() => void) | undefined
let timer: ReturnType<typeof setInterval> | undefined
let readings: { s: number; c: number }[] = []
let latest: S['ProbeReading'] | undefined
let began = 0
function stop() {
  deaf?.()
  clearInterval(timer)
  following.value = ''
}
function follow(bench: string) {
  stop()
  following.value = bench
  readings = []
  latest = undefined
  began = Date.now()
  deaf = listen(
    `/api/v1/benches/${bench}/probe/stream`,
    (said) => {
      latest = JSON.parse(said) as S['ProbeReading']
    },
    () => {
      latest = undefined
    },
  )
  timer = setInterval(() => {
    if (latest?.status === 'ok') readings.push({ s: (Date.now() - began) / 1000, c: latest.c })
    if (readings.length >= 2 && readings.length % 3 === 0)
      void attempt(async () => {
        run.value = await data(POST('/cooking/probe', { body: { ...about(), readings } }))
      })
  }, 1000)
}
onScopeDispose(stop)
const probes = computed(() => shop.value?.benches.filter((b) => b.has_probe) ?? [])
const sentence = computed(() => {
  const r = run.value
  if (!r) return ''
  const worth = r.safe
    ? say`Worth ${r.pasteurisation_minutes.toFixed(1)} minutes at ${temperature(70)}: ` +
      say`enough since minute ${r.safe_at_min!.toFixed(0)}.`
    : say`Worth ${r.pasteurisation_minutes.toFixed(2)} of the 2 minutes at ${temperature(70)}: not enough yet.`
  const floor =
    r.min_core_at_min !== undefined
      ? say`The floor of ${temperature(r.min_safe_core_c)} was reached at minute ${r.min_core_at_min.toFixed(0)}.`
      : say`The floor of ${temperature(r.min_safe_core_c)} was not reached; the highest was ${temperature(r.peak_c)}.`
  const out =
    r.take_out_at_min !== undefined
      ? say`Take it out at minute ${r.take_out_at_min.toFixed(0)} (${temperature(r.take_out_c!)}); ` +
        say('it rises while it rests.')
      : say`Not yet at the ${temperature(r.take_out_c!)} at which it comes out.`
  return `${worth} ${floor} ${out}`
})
const long = computed(() => run.value?.curve.at(-1)?.min ?? 0)
const picture = computed(() => (run.value ? probeChart(run.value, temperature) : undefined))
</script>

<template>
  <section class="probe" aria-label="A probe's log">
    <h2>What the probe says</h2>
    <div class="row no-print">
      <label
        >wanted <input v-model="wanted" inputmode="decimal" maxlength="5" aria-label="Wanted centre in °C" /> °C</label
      ><label>weight <input v-model="kg" inputmode="decimal" maxlength="5" aria-label="Weight in kg" /> kg</label>
      <label class="tick"><input v-model="treated" type="checkbox" /> minced, rolled, stuffed or pierced</label>
      <FilePick label="Import probe log" test="probe-file" @picked="read" />
      <PvButton
        v-for="b in probes"
        :key="b.id"
        severity="secondary"
        :label="following === b.id ? say`Stop ${b.name}` : say`Follow ${b.name}`"
        @click="following === b.id ? stop() : follow(b.id)"
      />
    </div>
    <p v-if="following" role="status" class="small">Following; a sounding each second.</p>
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <template v-if="run">
      <p data-test="probe-sentence">
        <strong>{{ sentence }}</strong>
      </p>
      <ChartFrame
        v-if="picture"
        :option="picture"
        :label="say`The centre over ${long.toFixed(0)} minutes, highest ${temperature(run.peak_c)}`"
        :height="260"
        file="probe"
      />
    </template>
    <p class="small">
      The sum of 10^((T − 70) / 7.5) over the minutes; two are enough (UK FSA, from memory). The floor is USDA FSIS’s,
      from memory. The file holds a time and a temperature. Local rules come first.
    </p>
  </section>
</template>

<style scoped>
.probe {
  margin-top: 32px;
  border-top: 4px solid var(--ink);
  padding-top: 10px;
  display: flex;
  flex-direction: column;
  gap: 10px;
  max-width: 900px;
}
input:not([type='checkbox']) {
  font: inherit;
  width: 70px;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 8px;
  background: var(--surface);
  color: var(--ink);
}
</style>
