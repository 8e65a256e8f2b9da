<script setup lang="ts">
// Does it pay? The answer first; the question stands above it as a line that opens.
import { computed } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import PickOne from '../components/PickOne.vue'
import StateNote from '../components/StateNote.vue'
import { data, POST, type S } from '../api/client'
import { asProblem } from '../api/problem'
import { useShop } from '../shell/shop'
import { percent, shortName } from '../words/shown'
import CostTable from './CostTable.vue'
import DeskQuestion from './DeskQuestion.vue'
import PairView from './PairView.vue'
import QuestionLine from '../components/QuestionLine.vue'
import ReportLinks from './ReportLinks.vue'
import { useDeskQuestion } from './useDeskQuestion'
import { say } from '../words/say'

const { mass, money, unit } = useShop()
const { form, whole, body, kind } = useDeskQuestion(unit)
const {
  data: d,
  error,
  isFetching,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('desk', body.value)),
  enabled: whole,
  queryFn: () => data(POST('/comparisons', { body: body.value })),
  placeholderData: keepPreviousData,
  retry: false,
})
const problem = computed(() => (error.value ? asProblem(error.value) : undefined))
const rest = computed(
  () =>
    problem.value &&
    !problem.value.errors.some((e) => /^(alternatives|block_price|margin|chain|sold_days)/.test(e.field)),
)
const method = computed(() => d.value?.methods.find((m) => m.id === form.method))
const letter = (i: number) => String.fromCharCode(65 + i)
/** The question in a line. */
const asked = computed(() => {
  if (!d.value) return say('What is compared')
  const options = d.value.alternatives.map((a, i) => `${letter(i)} ${shortName(a.name)}`).join(say(' against '))
  const prices = form.sold
    ? say('as it really sold')
    : form.today
      ? say('at today’s prices')
      : say('at the prices of their day')
  const block = form.block.trim() ? say`, block at ${form.block.trim()} per ${unit.value}` : ''
  return `${d.value.alternatives[0]?.piece ?? ''}: ${options}, ${prices}${block}`
})
/** Something was added to one of them, and costs. */
const adds = computed(() => d.value?.alternatives.some((s) => s.totals.ingredients !== undefined) ?? false)
/** The lines of a side for a unit of block, rounded together so that they add up. */
const lines = (s: S['Alternative']) => s.totals.lines.find((l) => l.per === unit.value)!
</script>

<template>
  <h1 class="vh">Does it pay?</h1>
  <QuestionLine :asked="asked" :wrong="!whole || !!problem?.errors.length">
    <DeskQuestion v-model="form" :problem="problem" @kind="kind" />
  </QuestionLine>
  <p v-if="!whole">Choose at least two options; a piece must be named.</p>
  <StateNote
    :error="rest ? error : undefined"
    :loading="isFetching && !d && whole"
    what="the comparison"
    @retry="refetch()"
  />
  <template v-if="d && !problem">
    <PairView v-for="p in d.pairs" :key="p.b" :desk="d" :pair="p" :margin="body.margin_pct ?? 0" />
    <div v-wide class="scroll">
      <table v-wide class="alternatives" data-test="alternatives">
        <caption>
          Options, per
          {{
            unit
          }}
          of block
        </caption>
        <thead>
          <tr>
            <th>Option</th>
            <th>Way</th>
            <th class="n">Pieces</th>
            <th class="n">Weight</th>
            <th class="n">Sold as meat</th>
            <th class="n">Sales</th>
            <th class="n">Packaging</th>
            <th class="n">Labour</th>
            <th class="n">Discard</th>
            <th v-if="adds" class="n">Ingredients</th>
            <th class="n">Block</th>
            <th class="n">Value</th>
            <th class="n">a bench hour</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(s, i) in d.alternatives" :key="i">
            <td>
              <strong>{{ letter(i) }}</strong>
            </td>
            <td>
              {{ s.name }} <span class="small">{{ s.planned ? say('estimated') : say('measured') }}</span>
            </td>
            <td class="n">{{ s.pieces }}</td>
            <td class="n">{{ mass(s.weight_g, 2) }}</td>
            <td class="n">{{ percent(s.saleable_pct) }}</td>
            <td class="n">{{ money(lines(s).sales) }}</td>
            <td class="n">{{ money(lines(s).packaging) }}</td>
            <td class="n">{{ money(lines(s).labour) }}</td>
            <td class="n">{{ money(lines(s).discard) }}</td>
            <td v-if="adds" class="n">{{ money(lines(s).ingredients ?? 0) }}</td>
            <td class="n">{{ money(lines(s).purchase) }}</td>
            <td class="n">
              <strong>{{ money(lines(s).value) }}</strong>
            </td>
            <td class="n">{{ s.totals.per_hour ? money(s.totals.per_hour) : '–' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <div class="row method no-print">
      <span>Costs shared by <PickOne v-model="form.method" label="Joint-cost method" :options="d.methods" /></span
      ><label><input v-model="form.credit" type="checkbox" /> by-products credited first</label>
    </div>
    <CostTable v-for="(s, i) in d.alternatives" :key="i" :side="s" :method="method" :margin="body.margin_pct ?? 0" />
    <p v-if="d.sold" class="small" data-test="sold-through">
      Sold at its full price, of what is known to have sold:
      <template v-for="(x, i) in d.sold.alternatives" :key="i"
        >{{ i ? '; ' : '' }}{{ letter(i) }}
        {{
          x.full_pct === undefined
            ? say('nothing of it was sold')
            : say`${percent(x.full_pct, 0)} (${percent(x.known_pct ?? 0, 0)} of its weight is known)`
        }}</template
      >.
    </p>
    <p v-for="b in d.basis" :key="b" class="small basis">{{ b }}</p>
    <ReportLinks :ask="{ kind: 'comparison', comparison: body }" />
  </template>
</template>

<style scoped>
caption {
  text-align: left;
}
.scroll {
  overflow-x: auto;
}
.alternatives {
  margin-top: 12px;
}
.alternatives td,
.alternatives th {
  padding: 5px 7px;
  white-space: nowrap;
}
.alternatives td:nth-child(2) {
  white-space: normal;
  min-width: 180px;
}
.method {
  margin-top: 22px;
  gap: 24px;
}
.method label {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 44px;
}
.basis {
  margin: 8px 0 0;
  max-width: 100ch;
}
</style>
