<script setup lang="ts">
// What a week's kill should become: the answer first; then which piece goes which way, what of it sells, and how sure
// that is.
import { computed, reactive, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import ProgressBar from 'primevue/progressbar'
import { keyOf } from '../api/keys'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import QuestionLine from '../components/QuestionLine.vue'
import StateNote from '../components/StateNote.vue'
import { useAddressForm } from '../components/useAddressForm'
import { data, POST, type S } from '../api/client'
import { asProblem } from '../api/problem'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { percent, plainDay } from '../words/shown'
import { typedCount, typedDay } from '../words/typed'
import BarList from './BarList.vue'
import FlowPicture from './FlowPicture.vue'
import WeekQuestion from './WeekQuestion.vue'
import { headsOf } from './weekHeads'
import { useWeekTake } from './weekTake'

const { mass, money, pricePer, unit } = useShop()
const { may } = useMe()
const address = useAddressForm({
  heads: '', // nothing is reckoned before somebody says what is killed
  minutes: '4800',
  saw: '600',
  days: '7',
  loss: '',
  open: true,
})
const form = reactive({ ...address, heads: address.heads || 'beef.side~1~|lamb.whole~1~' })
const begun = computed(() => !!address.heads)
const body = computed<S['WeekAsk']>(() => ({
  heads: headsOf(address.heads).map(({ carcass, count, weight, killed }) => ({
    carcass,
    count: typedCount(count),
    ...(weight.trim() && { weight: weight.trim(), weight_unit: unit.value }),
    ...(killed.trim() && { slaughtered_on: typedDay(killed) }),
  })),
  days: typedCount(address.days) || -1,
  open_orders: address.open,
  ...(address.loss.trim() && { ageing_loss_pct: address.loss.trim() }),
  ...(address.minutes.trim() && { minutes: address.minutes.trim() }),
  ...(address.saw.trim() && { saw_minutes: address.saw.trim() }),
}))
const {
  data: v,
  error,
  isFetching,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('week', body.value)),
  queryFn: () => data(POST('/week', { body: body.value })),
  enabled: begun,
  staleTime: 60_000,
  retry: false,
})
const problem = computed(() => (error.value ? asProblem(error.value) : undefined))
const wrong = computed(() => !!problem.value?.errors.length)
const ask = () => {
  Object.assign(address, form)
  if (wrong.value) void refetch()
}
const headOf = (carcass: string) => body.value.heads.find((h) => h.carcass === carcass)
const asked = computed(() =>
  [
    ...(v.value?.worth ?? []).map((w) => {
      const division = v.value?.divisions.find((d) => d.carcass === w.carcass)?.name ?? ''
      const killed = headOf(w.carcass)?.slaughtered_on
      return (
        `${headOf(w.carcass)?.count ?? 0} × ${w.name}, ${division.charAt(0).toLowerCase()}${division.slice(1)}` +
        (killed ? say`, slaughtered on ${plainDay(killed)}` : '')
      )
    }),
    say`${address.minutes || say('any')} bench minutes, ${address.saw || say('any')} at the saw, ` +
      say`to be sold in ${address.days} days`,
  ].join('; '),
)
const names = {
  best: say('The best'),
  traditional: say('Everything traditional'),
  seamed: say('Everything seamed'),
  last: say('As the last seven days were cut'),
  cautious: say('The best where demand is low'),
}
const best = computed(() => v.value?.ways[0])
const against = (id: string) => {
  const way = v.value?.ways.find((w) => w.id === id)
  return way && best.value ? Number(best.value.brings) - Number(way.brings) : 0
}
const bars = computed(() =>
  (v.value?.ways ?? [])
    .filter((w) => w.id !== 'cautious')
    .map((w) => ({ name: names[w.id], value: Number(w.brings), text: money(w.brings) })),
)
const madeColumns: ListColumn<S['WeekMade']>[] = [
  { id: 'recipe', head: say('Recipe'), by: (m) => m.recipe },
  { id: 'from', head: say('Of') },
  { id: 'made', head: say('Made'), by: (m) => m.sold_g, number: true },
  { id: 'value', head: say('Brings'), by: (m) => Number(m.value), number: true },
]
type Use = S['WeekUse']
const useColumns: ListColumn<Use>[] = [
  { id: 'piece', head: say('Piece') },
  { id: 'plan', head: say('Cut by') },
  { id: 'pieces', head: say('Pieces'), by: (u) => u.pieces, number: true },
  { id: 'each', head: say('Each'), by: (u) => u.each_g, number: true },
  { id: 'minutes', head: say('Minutes'), by: (u) => u.minutes, number: true },
]
type Sale = S['WeekSale']
const saleColumns: ListColumn<Sale>[] = [
  { id: 'name', head: say('Product'), by: (s) => s.name },
  { id: 'made', head: say('There will be'), by: (s) => s.made_g, number: true },
  { id: 'cap', head: say('These days sell'), by: (s) => s.cap_g ?? Infinity, number: true },
  { id: 'beyond', head: say('Beyond it'), by: (s) => s.fallback_g, number: true },
  { id: 'value', head: say('Brings'), by: (s) => Number(s.value), number: true },
  { id: 'kilo', head: say('One more kilo sold'), by: (s) => Number(s.kilo_worth ?? 0), number: true },
]
const carcassOf = (u: Use) => v.value?.worth.find((w) => w.carcass === u.carcass)?.name ?? u.carcass
const flowNames = computed(() => ({ ...v.value?.names, carcass: say('The kill') }))
const { anew, changes, take, busy: taking, problem: refused } = useWeekTake(v)
const all = ref(false)
const sales = computed(() => (all.value ? v.value!.sales : (v.value?.sales ?? []).slice(0, 15)))
</script>

<template>
  <h1 class="vh">A week’s kill</h1>
  <QuestionLine :asked="asked" :wrong="wrong || !begun"
    ><WeekQuestion v-model="form" :problem="problem" :busy="isFetching" @ask="ask"
  /></QuestionLine>
  <p v-if="!begun" class="small">
    Say what is killed, and by how many minutes it can be cut: every division and every way of cutting is weighed, and
    which piece should go which way stands here.
  </p>
  <ProgressBar v-if="isFetching" mode="indeterminate" class="busy" aria-label="Searching" />
  <p v-if="isFetching && !v" class="small" role="status">Every division and every way is weighed; it takes seconds.</p>
  <StateNote v-if="!wrong" :error="error" :loading="false" what="the week" @retry="refetch()" />
  <p v-if="wrong" class="fault" role="alert">
    {{ problem?.errors.map((e) => `${e.message}. ${e.hint ?? ''}`).join(' ') }}
  </p>
  <template v-if="v && best">
    <h2 class="sentence" data-test="week-sentence">{{ v.sentence }}</h2>
    <dl class="figures">
      <div>
        <dt>it brings, before the animals</dt>
        <dd class="figure">{{ money(best.brings) }}</dd>
      </div>
      <div>
        <dt>more than traditional</dt>
        <dd class="figure">{{ money(against('traditional'), true) }}</dd>
      </div>
      <div v-for="w in v.worth" :key="w.carcass">
        <dt>one more {{ w.name.toLowerCase() }}, at most</dt>
        <dd class="figure">{{ money(w.more) }}</dd>
        <dd class="small" data-test="bid">a single one {{ money(w.low) }} to {{ money(w.high) }}</dd>
      </div>
      <div v-if="v.hour_worth">
        <dt>one more bench hour</dt>
        <dd class="figure">{{ money(v.hour_worth, true) }}</dd>
      </div>
    </dl>
    <BarList :bars="bars" title="What the whole brings, before the animals are paid" />
    <table v-wide data-test="week-ways">
      <thead>
        <tr>
          <th>Way</th>
          <th class="n">As reckoned</th>
          <th class="n">In the mean</th>
          <th class="n">Worst tenth below</th>
          <th class="n">Behind the best by</th>
          <th class="n">Bench</th>
          <th class="n">Saw</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="w in v.ways" :key="w.id">
          <td>
            {{ names[w.id] }} <span v-if="w.id === v.safest" class="small">the safest</span
            ><span v-if="w.over" class="small fault"> more minutes than there are</span>
          </td>
          <td class="n">{{ money(w.brings) }}</td>
          <td class="n">{{ money(w.mean) }}</td>
          <td class="n">{{ money(w.worst) }}</td>
          <td class="n">{{ money(w.regret) }}</td>
          <td class="n">{{ Math.round(w.minutes) }} min</td>
          <td class="n">{{ Math.round(w.saw_minutes) }} min</td>
        </tr>
      </tbody>
    </table>
    <p class="small">
      The mean, the worst tenth, and by how much it is behind the best of these nine times of ten: over 1,000 weeks in
      which demand that is known from sales, and yields, come as they may. What is made of a piece varies by
      {{ percent(v.spread_pct) }} ({{
        v.spread_n
          ? say`measured, ${counted(v.spread_n, 'finished piece')}`
          : say('common practice, the house has too few yet')
      }}).
    </p>
    <div class="spread">
      <h2>Which piece goes which way</h2>
      <PvButton
        v-if="changes.length && may('PUT /pieces/{piece_id}/plan')"
        severity="secondary"
        :label="say`Plan the ${counted(changes.length, 'piece')} that wait on the rail so`"
        :loading="taking"
        data-test="week-take"
        @click="take"
      />
    </div>
    <label v-if="may('PUT /pieces/{piece_id}/plan')" class="anew no-print"
      ><Checkbox v-model="anew" binary data-test="week-anew" /> Change pieces too that have a plan and are not begun
    </label>
    <p v-if="refused" class="fault" role="alert">{{ refused.message }}</p>
    <ListTable
      :rows="v.uses"
      :columns="useColumns"
      :row-key="(u) => u.carcass + u.piece + u.plan_name"
      :group="carcassOf"
      label="Which piece goes which way"
      name="u"
    >
      <template #piece="{ row: u }">{{ u.piece_name }}</template>
      <template #plan="{ row: u }"
        >{{ u.plan_name }} <span v-if="u.seams" class="small">along its seams</span>
        <span v-if="u.ready_on" class="small">{{ say`ripe on ${plainDay(u.ready_on)}` }}</span></template
      >
      <template #pieces="{ row: u }">{{ u.pieces }}</template>
      <template #each="{ row: u }">{{ mass(u.each_g, 2) }}</template>
      <template #minutes="{ row: u }">{{ Math.round(u.minutes) }}</template>
    </ListTable>
    <h2>What it becomes</h2>
    <FlowPicture
      :flows="v.flows"
      :names="flowNames"
      :show="(w, x) => `${mass(w, 1)}, ${money(x)}`"
      straight
      file="weeks-kill"
    />
    <ListTable :rows="sales" :columns="saleColumns" :row-key="(s) => s.key" label="What it becomes" name="s">
      <template #name="{ row: s }">{{ s.name }}</template>
      <template #made="{ row: s }">{{ mass(s.made_g, 1) }}</template>
      <template #cap="{ row: s }"
        >{{ s.cap_g === undefined ? say('not known') : mass(s.cap_g, 1) }}
        <span v-if="s.stock_g" class="small">{{ say`${mass(s.stock_g, 1)} in stock` }}</span></template
      >
      <template #beyond="{ row: s }">{{ s.fallback_g ? mass(s.fallback_g, 1) : '–' }}</template>
      <template #value="{ row: s }">{{ money(s.value) }}</template>
      <template #kilo="{ row: s }">{{ s.kilo_worth ? pricePer(s.kilo_worth) : '–' }}</template>
    </ListTable>
    <p v-if="v.sales.length > 15" class="no-print">
      <button type="button" class="more" @click="all = !all">
        {{ all ? say('The first 15 only') : say`All ${counted(v.sales.length, 'product')}` }}
      </button>
    </p>
    <template v-if="v.made.length">
      <h2>What the trim is made into</h2>
      <p data-test="week-made">
        By the recipes it brings {{ money(v.made_gain) }} more than the trim does as it is; that is not in the figures
        above.
      </p>
      <ListTable
        :rows="v.made"
        :columns="madeColumns"
        :row-key="(m) => m.recipe"
        label="What the trim is made into"
        name="m"
      >
        <template #recipe="{ row: m }">{{ m.recipe }}</template>
        <template #from="{ row: m }">{{ m.from.map((f) => `${f.name} ${mass(f.weight_g, 1)}`).join(', ') }}</template>
        <template #made="{ row: m }"
          >{{ mass(m.sold_g, 1)
          }}<span v-if="m.pieces" class="small"> · {{ counted(m.pieces, 'piece') }}</span></template
        >
        <template #value="{ row: m }">{{ money(m.value) }}</template>
      </ListTable>
    </template>
    <p v-for="n in v.notes" :key="n" class="small">{{ n }}</p>
  </template>
</template>

<style scoped>
.anew {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
}
.busy {
  height: 4px;
}
h2 {
  margin-top: 22px;
}
.figures {
  display: flex;
  flex-wrap: wrap;
  gap: 10px 36px;
  margin: 12px 0;
}
dt {
  color: var(--ink-2);
  font-size: 13px;
}
dd {
  margin: 0;
}
.more {
  border: 0;
  background: none;
  font: inherit;
  min-height: 44px;
  text-decoration: underline;
  cursor: pointer;
  color: var(--ink);
  padding: 0;
}
</style>
