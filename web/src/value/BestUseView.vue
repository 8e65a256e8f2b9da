<script setup lang="ts">
// The best plan for each piece that is ready, within the minutes, the demand and the orders of the day.
import { computed, reactive, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import { typedNumber } from '../components/typedNumber'
import { data, GET, POST, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { shortName, useShop } from '../shell/shop'
import { useMe } from '../shell/me'
import PickOne from '../components/PickOne.vue'
import ReportLinks from './ReportLinks.vue'

const queries = useQueryClient()
const { mass, money, perUnit, pricePer, unit, unitWord } = useShop()
const { may } = useMe()
const { data: prices } = useQuery({ queryKey: ['prices'], queryFn: () => data(GET('/prices')) })
const { data: markets } = useQuery({ queryKey: ['markets'], queryFn: () => data(GET('/markets')) })
const key = 'falda.best-use'
interface Kept {
  minutes: string
  days: string
  market: string
  wait: boolean
  orders: S['BestOrder'][]
}
const usual: Kept = { minutes: '240', days: '7', market: '', wait: true, orders: [] }
const form = reactive<Kept>({ ...usual, ...(JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<Kept>) })
watch(form, () => localStorage.setItem(key, JSON.stringify(form)), { deep: true })
const { busy, problem, attempt } = useAttempt()
const found = ref<S['BestUseView']>()
const asked = ref<S['BestUseAsk']>({})
const body = computed<S['BestUseAsk']>(() => ({
  days: Math.round(typedNumber(form.days)),
  wait: form.wait,
  ...(form.minutes.trim() && { minutes: form.minutes.trim() }),
  ...(form.market && { market: form.market }),
  orders: form.orders.filter((o) => o.product_key || o.weight),
}))
const solve = () =>
  attempt(async () => {
    asked.value = body.value
    found.value = undefined
    done.value = ''
    found.value = await data(POST('/best-use', { body: asked.value }))
  })
const fault = (f: string) => problem.value?.at(f) ?? ''
const orderFault = (i: number) => fault(`orders[${i}].weight`) || fault(`orders[${i}].product_key`)
const done = ref('')
const takes = computed(() => found.value?.pieces.filter((p) => p.plan_id && p.plan_id !== p.piece.plan_id) ?? [])
const take = () =>
  attempt(async () => {
    let n = 0
    for (const p of takes.value) {
      await data(
        PUT('/pieces/{piece_id}/plan', {
          params: { path: { piece_id: p.piece.id } },
          body: { plan_id: p.plan_id, version: p.piece.version },
        }),
      )
      n++
      done.value = `${n} planned so.`
    }
    await queries.invalidateQueries()
    found.value = await data(POST('/best-use', { body: asked.value }))
  })
const groups = computed(() => {
  const out = new Map<string, S['BestUsePiece'][]>()
  for (const p of found.value?.pieces ?? []) out.set(p.piece.name, [...(out.get(p.piece.name) ?? []), p])
  return [...out.entries()]
})
const worth = (s: S['BestUseSale']) =>
  s.more_demand === undefined ? '' : Number(s.more_demand) < 0.005 ? 'nothing' : money(perUnit(s.more_demand), true)
</script>

<template>
  <h1 v-if="!found" class="vh">The best use of what is ready</h1>
  <form class="ask no-print" novalidate aria-label="What there is" @submit.prevent="solve">
    <FormField id="bu-minutes" label="Bench minutes" :fault="fault('minutes')" hint="Empty: no limit."
      ><InputText
        id="bu-minutes"
        v-model="form.minutes"
        inputmode="decimal"
        :invalid="!!fault('minutes')"
        autocomplete="off"
    /></FormField>
    <FormField id="bu-days" label="To be sold in, days" :fault="fault('days')" hint="A week’s demand counts by them."
      ><InputText id="bu-days" v-model="form.days" inputmode="numeric" :invalid="!!fault('days')" autocomplete="off"
    /></FormField>
    <FormField v-if="markets?.length" id="bu-market" label="Prices of" :fault="fault('market')"
      ><PickOne
        id="bu-market"
        v-model="form.market"
        :options="markets.filter((x) => !x.main && x.active)"
        :none="markets.find((m) => m.main)?.name"
    /></FormField>
    <label class="wait"><input v-model="form.wait" type="checkbox" /> pieces may wait for another day</label>
    <div class="orders">
      <p class="label">Orders that must be met</p>
      <div v-for="(o, i) in form.orders" :key="i" class="order">
        <PickOne
          v-model="o.product_key"
          :label="`Product of order ${i + 1}`"
          :options="prices"
          by="key"
          none="choose a product"
        /><input
          v-model="o.weight"
          class="short"
          inputmode="decimal"
          :aria-label="`Weight of order ${i + 1}`"
          :aria-invalid="!!orderFault(i)"
        />
        {{ o.unit }} <button type="button" class="drop" @click="form.orders.splice(i, 1)">Remove</button
        ><span v-if="orderFault(i)" class="fault" role="alert">{{ orderFault(i) }}</span>
      </div>
      <PvButton text label="Add an order" @click="form.orders.push({ product_key: '', weight: '', unit })" />
    </div>
    <div class="go"><PvButton type="submit" label="Find the best use" :loading="busy" data-test="solve" /></div>
  </form>
  <p
    v-if="problem && (fault('pieces') || fault('') || (!problem.errors.length && problem.message))"
    class="fault"
    role="alert"
  >
    {{ fault('pieces') || fault('') || problem.message }}
  </p>
  <p v-if="busy && !found" role="status">Weighing every way against every other…</p>
  <p v-if="!found && !busy && !problem" class="small">
    Says for every piece that is ready how to cut it, so that all of them together bring the most: exactly, not by a
    rule of thumb. Demand per week is set on the price page.
  </p>
  <template v-if="found">
    <h1 class="sentence" data-test="best-sentence">{{ found.sentence }}</h1>
    <dl class="figures">
      <div>
        <dt>brings, before what the pieces cost</dt>
        <dd class="figure">{{ money(found.value) }}</dd>
      </div>
      <div>
        <dt>bench minutes</dt>
        <dd class="figure">{{ found.minutes.toFixed(0) }}</dd>
      </div>
      <div v-if="found.hour !== undefined">
        <dt>one more bench hour is worth</dt>
        <dd class="figure">{{ money(found.hour, true) }}</dd>
      </div>
      <div>
        <dt>{{ found.proven ? 'proven' : 'at most' }}</dt>
        <dd class="figure">{{ found.proven ? 'none better' : money(found.at_most) }}</dd>
      </div>
    </dl>
    <div v-if="may('PUT /pieces/{piece_id}/plan') && (takes.length || done)" class="row no-print">
      <PvButton
        v-if="takes.length"
        :label="`Plan ${takes.length} ${takes.length === 1 ? 'piece' : 'pieces'} so`"
        :disabled="busy"
        data-test="take"
        @click="take"
      /><span v-if="done" role="status"
        ><strong>{{ done }}</strong></span
      >
    </div>
    <div class="lay">
      <section>
        <h2>Each piece</h2>
        <template v-for="[name, list] in groups" :key="name"
          ><h3>
            {{ name }} <span class="small">{{ list[0]!.basis }}</span>
          </h3>
          <ul>
            <li v-for="p in list" :key="p.piece.id">
              <RouterLink :to="{ name: 'plan', params: { piece: p.piece.id } }"
                >{{ p.piece.lot_number }} / {{ p.piece.number }}</RouterLink
              >
              {{ mass(p.piece.weight_g, 2) }} → <strong>{{ p.plan }}</strong><br /><span class="small"
                >{{ p.sentence
                }}<template v-if="p.young.length"> Too young for {{ p.young.join(', ') }}.</template></span
              >
            </li>
          </ul></template
        >
      </section>
      <section>
        <h2>What it gives</h2>
        <div v-wide class="scroll">
          <table v-wide data-test="best-sales">
            <thead>
              <tr>
                <th>Product</th>
                <th class="n">Cut</th>
                <th class="n">Sells</th>
                <th class="n">Ordered</th>
                <th class="n">Beyond</th>
                <th class="n">Brings</th>
                <th class="n">A {{ unitWord }} more of demand</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="s in found.sales" :key="s.key">
                <td>
                  {{ shortName(s.name) }} <span class="small">{{ pricePer(s.price) }}</span>
                </td>
                <td class="n">{{ mass(s.weight_g, 2) }}</td>
                <td class="n">{{ s.cap_g === undefined ? 'all' : mass(s.cap_g, 1) }}</td>
                <td class="n">{{ s.order_g ? mass(s.order_g, 1) : '' }}</td>
                <td class="n">{{ s.fallback_g ? `${mass(s.fallback_g, 2)} at ${pricePer(s.fallback ?? 0)}` : '' }}</td>
                <td class="n">{{ money(s.value) }}</td>
                <td class="n">{{ worth(s) }}</td>
              </tr>
              <tr class="total">
                <td colspan="5">Sales altogether</td>
                <td class="n">{{ money(found.brought) }}</td>
                <td />
              </tr>
              <tr>
                <td colspan="5">Cutting, packaging and the bin</td>
                <td class="n">{{ money(-Number(found.costs)) }}</td>
                <td />
              </tr>
              <tr class="total">
                <td colspan="5">Brings, before what the pieces cost</td>
                <td class="n">{{ money(found.value) }}</td>
                <td />
              </tr>
            </tbody>
          </table>
        </div>
      </section>
    </div>
    <p v-for="n in found.notes" :key="n" class="small">{{ n }}</p>
    <ReportLinks :ask="{ kind: 'best_use', best_use: asked }" />
  </template>
</template>

<style scoped>
.ask {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 210px));
  gap: 12px 20px;
  align-items: start;
}
.orders,
.go {
  grid-column: 1 / -1;
}
.wait {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
  align-self: end;
  margin-bottom: 22px;
}
.order {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: 6px;
}
.label {
  margin: 0 0 6px;
}
.short {
  font: inherit;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  max-width: 320px;
  width: 100%;
}
.short {
  width: 84px;
  text-align: right;
  padding: 0 8px;
}
.drop {
  min-height: 44px;
  border: 0;
  background: none;
  color: var(--ink);
  text-decoration: underline;
  cursor: pointer;
  font: inherit;
}
.sentence {
  margin: 20px 0 12px;
}
.figures {
  display: flex;
  gap: 12px 40px;
  flex-wrap: wrap;
  margin: 0 0 14px;
}
.figures dt {
  font-size: 13px;
  color: var(--ink-2);
  font-stretch: 86%;
}
.figures dd {
  margin: 2px 0 0;
}
.row {
  margin-bottom: 16px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.25fr);
  gap: 36px;
  align-items: start;
}
h3 {
  font-size: 18px;
  margin: 12px 0 4px;
}
h3 .small {
  font-weight: 400;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 7px 0;
  border-bottom: 1px solid var(--hairline);
}
.scroll {
  overflow-x: auto;
}
td,
th {
  padding: 4px 6px;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
@media (max-width: 1000px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
  .ask {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
