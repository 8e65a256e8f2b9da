<script setup lang="ts">
// A trial: a line for each pair from one way to the other, what it says, and each pair on its own.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import ReportLinks from '../value/ReportLinks.vue'
import ChartFrame from '../charts/ChartFrame.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, PUT } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { minus, shortName } from '../words/shown'
import { workplace } from '../stages/rail/useRail'
import { pairsChart, pairWords } from './pairsChart'
import { useTitle } from '../shell/title'
import { say } from '../words/say'

const props = defineProps<{ trial: string }>()
const queries = useQueryClient()
const { may } = useMe()
const { money, perUnit, unit, unitWord } = useShop()
const path = { trial_id: props.trial }
const {
  data: t,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: keyOf('trial', props.trial),
  queryFn: () => data(GET('/trials/{trial_id}', { params: { path } })),
})
const { busy, problem, attempt } = useAttempt()
const reason = ref('')
const asking = ref(false)
const turn = (voided: boolean) =>
  attempt(async () => {
    queries.setQueryData(
      keyOf('trial', props.trial),
      await data(
        PUT('/trials/{trial_id}/void', {
          params: { path },
          body: { voided, reason: voided ? reason.value.trim() : '', version: t.value!.version },
        }),
      ),
    )
    asking.value = false
    await queries.invalidateQueries({ queryKey: keyOf('trials') })
  })
const done = computed(() => t.value?.pairs.filter((p) => p.complete) ?? [])
const kilo = (v: number | undefined, sign = false) => (v === undefined ? '–' : money(perUnit(v), sign))
const picture = computed(() =>
  pairsChart(done.value, [shortName(t.value?.name_a ?? ''), shortName(t.value?.name_b ?? '')], kilo),
)
const number = (v: number | undefined, places = 2) => (v === undefined ? '–' : minus(v.toFixed(places)))

useTitle(() => t.value?.name)
</script>

<template>
  <section>
    <StateNote :error="error" :loading="isLoading" what="the trial" @retry="refetch()" />
    <template v-if="t">
      <p class="label">{{ t.name }} · {{ t.piece }}</p>
      <h1 class="sentence big" data-test="trial-sentence">{{ t.sentence }}</h1>
      <div class="lay">
        <ChartFrame
          v-if="done.length"
          :option="picture"
          :label="say`${done.length} pairs, each from one way to the other`"
          :points="done.map((p) => pairWords(p, kilo))"
          series="each"
          :least="460"
          file="trial"
        >
          A line for each pair: value per {{ unit }} after all costs, at the prices of its day. Dashed: far from the
          rest, marked and not left out.
        </ChartFrame>
        <div class="stack">
          <dl v-if="t.result?.t !== undefined" class="figures">
            <div>
              <dt>mean difference</dt>
              <dd class="figure">{{ kilo(t.result.mean_difference, true) }}</dd>
            </div>
            <div>
              <dt>95 % interval</dt>
              <dd>{{ kilo(t.result.low, true) }} to {{ kilo(t.result.high, true) }}</dd>
            </div>
            <div>
              <dt>t, degrees, p</dt>
              <dd>{{ number(t.result.t) }}, {{ t.result.df }}, {{ number(t.result.p, 4) }}</dd>
            </div>
          </dl>
          <table v-if="t.muscles.length" v-wide data-test="by-muscle">
            <thead>
              <tr>
                <th>Yield of</th>
                <th class="n">Difference</th>
                <th class="n">p</th>
                <th class="n">p, corrected</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="m in t.muscles" :key="m.part">
                <td>{{ shortName(m.name) }}</td>
                <td class="n">{{ number(m.result.mean_difference) }} points</td>
                <td class="n">{{ number(m.result.p, 3) }}</td>
                <td class="n">{{ number(m.p_corrected, 3) }}</td>
              </tr>
            </tbody>
          </table>
          <p v-if="t.muscles.length" class="small">
            Whoever asks of many muscles finds something by chance: p is corrected for that (Holm).
          </p>
        </div>
      </div>
      <table v-wide data-test="pairs">
        <thead>
          <tr>
            <th>Pair</th>
            <th>{{ t.name_a }}</th>
            <th>{{ t.name_b }}</th>
            <th class="n">Difference a {{ unitWord }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in t.pairs" :key="p.number">
            <td>{{ p.number }}</td>
            <td v-for="s in [p.a, p.b]" :key="s.piece.id">
              <RouterLink :to="workplace(s.piece)"
                >{{ s.piece.lot_number }}, {{ s.piece.number }} of {{ s.piece.of }}</RouterLink
              >
              {{ s.closed ? kilo(s.per_kg) : say('to cut') }}
            </td>
            <td class="n">
              {{ p.complete ? kilo(p.difference, true) : say('waits for its mate')
              }}<span v-if="p.outlier" class="fault"> far from the rest</span>
            </td>
          </tr>
        </tbody>
      </table>
      <ReportLinks :ask="{ kind: 'trial', trial_id: t.id }" />
      <template v-if="may('PUT /trials/{trial_id}/void')">
        <div class="row void">
          <PvButton
            v-if="t.state === 'void'"
            severity="secondary"
            label="Take it back in"
            :disabled="busy"
            @click="turn(false)"
          /><PvButton v-else-if="!asking" text label="Void this trial" @click="asking = true" />
        </div>
        <form v-if="asking" class="row" novalidate @submit.prevent="reason.trim() && turn(true)">
          <input
            v-model="reason"
            class="reason"
            maxlength="200"
            placeholder="why it must not count"
            aria-label="Why it must not count"
          /><PvButton type="submit" severity="secondary" label="Void it" :disabled="!reason.trim() || busy" />
        </form>
      </template>
      <p v-if="problem" class="fault" role="alert">
        {{ problem.message }} <PvButton v-if="problem.status === 409" text label="Load it again" @click="refetch()" />
      </p>
    </template>
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0 16px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 32px;
  align-items: start;
  margin-bottom: 18px;
}
.figures {
  display: flex;
  gap: 28px;
  flex-wrap: wrap;
  margin: 0;
}
.figures dt {
  font-size: 13px;
  color: var(--ink-2);
}
.figures dd {
  margin: 2px 0 0;
}
.void {
  margin-top: 14px;
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
@media (max-width: 900px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
