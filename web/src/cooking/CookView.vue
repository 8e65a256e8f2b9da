<script setup lang="ts">
// Several cuts on one table at one time, with one oven; and what a probe says.
import { computed, reactive, ref, shallowRef } from 'vue'
import PvButton from 'primevue/button'
import InputText from 'primevue/inputtext'
import DayPick from '../components/DayPick.vue'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { data, GET, POST, type S } from '../api/client'
import { useAtlasPiece } from '../api/useAtlasPiece'
import { useAttempt } from '../api/useAttempt'
import { useCardPath } from './useCardPath'
import { useDegrees } from './degrees'
import PickOne from '../components/PickOne.vue'
import { pieceName } from '../words/pieceName'
import { useAtlasPieces } from '../atlas/useAtlasPieces'
import { usePlans } from '../plans/usePlans'
import { useShop } from '../shell/shop'
import { clockHere } from '../words/shown'
import { typedDay } from '../words/typed'
import ProbeLog from './ProbeLog.vue'
import { say } from '../words/say'

const { system, systems, degrees, weight, words, us } = useDegrees()
const { data: pieces, error, isLoading, refetch } = useAtlasPieces()
const { shop } = useShop()
const { cardPath } = useCardPath()
const piece = ref('beef.top_sirloin')
const { data: atlasPiece } = useAtlasPiece(() => piece.value)
const { data: plans } = usePlans(piece)
/** What the atlas cuts of the piece, and what only the shop's own plans make of it. */
const products = computed(() => {
  const own = (plans.value?.plans ?? []).filter((p) => p.plan.own && !p.retired && !p.faults.length)
  const of = (list: S['PlanProduct'][], plan?: string) =>
    list
      .filter((p) => !['fat', 'bone', 'trim', 'sausage_trim', 'piece'].includes(p.form))
      .map((p) => ({ id: p.id, name: p.name, plan }))
  const all = [
    ...own.flatMap((p) => of(p.plan.products, p.plan.id)),
    ...(atlasPiece.value?.plans ?? []).flatMap((p) => of(p.products)),
  ]
  return [...new Map(all.map((p) => [p.id, p])).values()]
})
interface Row {
  atlas_id: string
  product_id: string
  /** Of the shop's own that makes it. */
  plan: string | undefined
  name: string
  eaters: string
  amount: string
  doneness: string
  /** How done it can be asked for; none where it cooks until it is tender. */
  choices: { id: string; name: string }[]
}
const rows = reactive<Row[]>([])
const whose = (plan: string | undefined) => ({ ...(shop.value && { shop: shop.value.id }), ...(plan && { plan }) })
const add = (p: { id: string; plan: string | undefined }) =>
  attempt(async () => {
    const path = { atlas_id: piece.value, product_id: p.id }
    const card = await data(GET('/cook/{atlas_id}/{product_id}', { params: { path, query: whose(p.plan) } }))
    const name = card.menu_name ?? card.name
    rows.push({ ...path, plan: p.plan, name, eaters: '4', amount: '', doneness: '', choices: card.doneness_choices })
  })
const soon = new Date(Date.now() + 5 * 3600e3)
const two = (n: number) => String(n).padStart(2, '0')
const day = ref(`${soon.getFullYear()}-${two(soon.getMonth() + 1)}-${two(soon.getDate())}`)
const hour = ref('19:00')
/** The moment on this screen's clock: "19:00", "19.30", "1930" or "19". */
const serve = computed(() => {
  const t = /^\s*(\d{1,2})(?:[:. ]?(\d{2}))?\s*$/.exec(hour.value)
  const at = new Date(`${typedDay(day.value)}T${two(Number(t?.[1] ?? 99))}:${t?.[2] ?? '00'}`)
  return Number.isNaN(at.getTime()) ? undefined : at
})
const table = shallowRef<S['Timetable']>()
const { busy, problem, attempt } = useAttempt()
const grams = (r: Row) => {
  const n = Number(r.amount.replace(',', '.'))
  return r.amount.trim() && n > 0 ? (us.value ? n * 453.59237 : n * 1000) : undefined
}
const plan = () =>
  attempt(async () => {
    table.value = await data(
      POST('/cooking/timetable', {
        body: {
          serve_at: serve.value!.toISOString(),
          dishes: rows.map((r) => ({
            atlas_id: r.atlas_id,
            product_id: r.product_id,
            ...whose(r.plan),
            ...(r.doneness && { doneness: r.doneness }),
            ...(grams(r) ? { weight_g: grams(r) } : { diners: Math.round(Number(r.eaters)) || 1 }),
          })),
        },
      }),
    )
  })
const print = () => window.print()
const sentence = computed(() => {
  const first = table.value?.moments[0]
  if (!table.value || !first) return say('What is to be on the table, and when?')
  return say`Begin at ${clockHere(first.at)}; on the table at ${clockHere(table.value.moments.at(-1)!.at)}.`
})
const fault = (i: number) =>
  problem.value?.errors
    .filter((e) => e.field.startsWith(`dishes[${i}]`))
    .map((e) => `${e.message}. ${e.hint ?? ''}`)
    .join(' ') ?? ''
</script>

<template>
  <section class="page">
    <h1 class="sentence" data-test="cook-sentence">{{ sentence }}</h1>
    <StateNote :error="error" :loading="isLoading" what="the atlas" @retry="refetch()" />
    <form class="lay" novalidate aria-label="A timetable" @submit.prevent="plan">
      <div class="left no-print">
        <FormField id="c-piece" label="Cuts of"
          ><PickOne id="c-piece" v-model="piece" :options="pieces" :called="pieceName"
        /></FormField>
        <div class="cuts">
          <button v-for="p in products" :key="p.id" type="button" class="cut" :data-cut="p.id" @click="add(p)">
            {{ p.name }}
          </button>
        </div>
        <p v-if="!rows.length" class="small">Select a cut to add it to the meal.</p>
        <div v-for="(r, i) in rows" :key="i" class="dish" :data-dish="r.product_id">
          <div class="spread">
            <strong>{{ r.name }}</strong><span class="row"
              ><RouterLink :to="cardPath(r.atlas_id, r.product_id, r.plan)">card</RouterLink
              ><button type="button" class="drop" :aria-label="say`Leave ${r.name} out`" @click="rows.splice(i, 1)">
                ×
              </button></span
            >
          </div>
          <div class="row fields">
            <label
              >for
              <input v-model="r.eaters" inputmode="numeric" maxlength="3" :aria-label="say`Eaters of ${r.name}`" />
              eaters</label
            ><label
              >or <input v-model="r.amount" inputmode="decimal" maxlength="6" :aria-label="say`Weight of ${r.name}`" />
              {{ us ? 'lb' : 'kg' }}</label
            ><PickOne
              v-if="r.choices.length > 1"
              v-model="r.doneness"
              :label="say`How done ${r.name}`"
              :options="r.choices"
              none="safe"
            />
          </div>
          <p v-if="fault(i)" class="fault" role="alert">{{ fault(i) }}</p>
        </div>
        <div class="row">
          <FormField id="c-day" label="On the table on" :fault="problem?.at('serve_at')"
            ><DayPick id="c-day" v-model="day" /></FormField
          ><FormField id="c-hour" label="at"
            ><InputText id="c-hour" v-model="hour" inputmode="numeric" maxlength="5" autocomplete="off" /></FormField
          ><UnitToggle v-model="system" :options="systems" label="Units" />
        </div>
        <PvButton
          type="submit"
          label="When to do what"
          :disabled="!rows.length || !serve"
          :loading="busy"
          data-test="timetable"
        />
        <p v-if="problem && !problem.errors.length" class="fault" role="alert">{{ problem.message }}</p>
      </div>
      <div v-if="table" class="stack" data-test="moments">
        <div class="spread no-print">
          <h2>{{ rows.map((r) => r.name).join(', ') }}</h2>
          <PvButton severity="secondary" label="Print" @click="print" />
        </div>
        <p v-for="c in table.clashes" :key="c" class="fault" role="alert">{{ words(c) }}</p>
        <p v-for="w in table.waits" :key="w">
          <strong>{{ w }}</strong>
        </p>
        <table v-wide>
          <tbody>
            <tr v-for="(m, i) in table.moments" :key="i">
              <td class="n at">{{ clockHere(m.at) }}</td>
              <td>
                <strong>{{ m.dish }}</strong> {{ words(m.do) }}
              </td>
            </tr>
          </tbody>
        </table>
        <p v-for="c in table.cards" :key="c.product_id" :class="c.below_safe ? 'fault' : 'small'">
          {{ c.menu_name ?? c.name }}, {{ weight(c.weight_g) }}, feeds {{ c.feeds }}: out at
          {{ degrees(c.take_out_c) }}.
          {{ words(c.sentence) }}
        </p>
        <p class="small">
          One oven; what cannot share its heat goes in earlier and waits warm. Times are estimates; the probe decides.
        </p>
      </div>
    </form>
    <ProbeLog class="no-print" />
  </section>
</template>

<style scoped>
.sentence {
  margin-bottom: 16px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
  gap: 36px;
  align-items: start;
}
.left {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.cuts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.cut {
  min-height: 48px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  padding: 0 12px;
  cursor: pointer;
}
.dish {
  border-top: 1px solid var(--hairline);
  padding-top: 8px;
}
.drop {
  min-width: 44px;
  min-height: 44px;
  border: 0;
  background: none;
  font-size: 20px;
  cursor: pointer;
}
#c-hour {
  width: 84px;
}
.fields input {
  font: inherit;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 8px;
  background: var(--surface);
  color: var(--ink);
}
.fields input {
  width: 64px;
}
.at {
  font-size: 18px;
  font-weight: 750;
  width: 70px;
}
@media (max-width: 900px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
