<script setup lang="ts">
// A trial: a line for each pair from one way to the other, what it says, and each pair on its own.
import { computed, ref } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import ReportLinks from '../value/ReportLinks.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, PUT } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import { minus, shortName, useShop } from '../shell/shop'
import { workplace } from '../stages/rail/useRail'
import { useTitle } from '../shell/title'

const props = defineProps<{ trial: string }>()
const queries = useQueryClient()
const { may } = useMe()
const { money, perUnit, unitWord } = useShop()
const path = { trial_id: props.trial }
const {
  data: t,
  error,
  isLoading,
  refetch,
} = useQuery({ queryKey: ['trial', props.trial], queryFn: () => data(GET('/trials/{trial_id}', { params: { path } })) })
const { busy, problem, attempt } = useAttempt()
const reason = ref('')
const asking = ref(false)
const turn = (voided: boolean) =>
  attempt(async () => {
    queries.setQueryData(
      ['trial', props.trial],
      await data(
        PUT('/trials/{trial_id}/void', {
          params: { path },
          body: { voided, reason: voided ? reason.value.trim() : '', version: t.value!.version },
        }),
      ),
    )
    asking.value = false
    await queries.invalidateQueries({ queryKey: ['trials'] })
  })
const done = computed(() => t.value?.pairs.filter((p) => p.complete) ?? [])
const values = computed(() => done.value.flatMap((p) => [p.a.per_kg!, p.b.per_kg!]))
const width = 460
const height = 280
const least = computed(() => Math.min(...values.value))
const most = computed(() => Math.max(...values.value))
const y = (v: number) => 20 + ((most.value - v) / Math.max(0.01, most.value - least.value)) * (height - 60)
const kilo = (v: number | undefined, sign = false) => (v === undefined ? '–' : money(perUnit(v), sign))
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
        <figure v-if="done.length" class="plot">
          <svg
            :viewBox="`0 0 ${width} ${height}`"
            role="img"
            :aria-label="done.map((p) => `Pair ${p.number}: ${kilo(p.a.per_kg)} and ${kilo(p.b.per_kg)}`).join('; ')"
          >
            <text class="axis" x="0" :y="y(most) + 4">{{ kilo(most) }}</text>
            <text class="axis" x="0" :y="y(least) + 4">{{ kilo(least) }}</text>
            <g v-for="p in done" :key="p.number">
              <line
                class="line"
                :class="{ odd: p.outlier }"
                x1="110"
                :x2="width - 110"
                :y1="y(p.a.per_kg!)"
                :y2="y(p.b.per_kg!)"
              />
              <circle class="dot" cx="110" :cy="y(p.a.per_kg!)" r="4" />
              <circle class="dot" :cx="width - 110" :cy="y(p.b.per_kg!)" r="4" />
            </g>
            <text class="way" text-anchor="middle" x="110" :y="height - 10">
              {{ shortName(t.name_a).slice(0, 28) }}
            </text>
            <text class="way" text-anchor="middle" :x="width - 110" :y="height - 10">
              {{ shortName(t.name_b).slice(0, 28) }}
            </text>
          </svg>
          <figcaption class="small">
            A line for each pair: value a {{ unitWord }} after all costs, at the prices of its day. Dashed: far from the
            rest, marked and not left out.
          </figcaption>
        </figure>
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
              {{ s.closed ? kilo(s.per_kg) : 'to cut' }}
            </td>
            <td class="n">
              {{ p.complete ? kilo(p.difference, true) : 'waits for its mate'
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
.plot {
  margin: 0;
}
.line {
  stroke: var(--act);
  stroke-width: 2;
}
.line.odd {
  stroke-dasharray: 5 4;
}
.dot {
  fill: var(--act);
}
.axis {
  font-size: 12px;
  fill: var(--ink-2);
}
.way {
  font-size: 13px;
  font-weight: 650;
  fill: var(--ink);
  font-stretch: 84%;
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
