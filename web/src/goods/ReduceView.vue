<script setup lang="ts">
// What should be sold for less before its use-by: when, by how much, and what is better cut small, minced or frozen.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import StateNote from '../components/StateNote.vue'
import { useAddressForm } from '../components/useAddressForm'
import { keyOf } from '../api/keys'
import { data, GET, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { percent, plainDay } from '../words/shown'
import { placeNames, tubName } from './tubWords'
import { useStockBooking } from './useStock'

const { mass, money } = useShop()
const { may } = useMe()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const booking = useStockBooking()
const {
  data: advice,
  error,
  isLoading,
  refetch,
} = useQuery({ queryKey: keyOf('markdowns'), queryFn: () => data(GET('/goods/markdowns')) })
type Row = S['MarkdownAdvice']
const form = useAddressForm({ open: '' })
const rowKey = (a: Row) => a.tub.id
const turn = (a: Row) => (form.open = form.open === a.tub.id ? '' : a.tub.id)
const now = (a: Row) => a.now_pct > a.off_pct
const today = computed(() => (advice.value?.tubs ?? []).filter((a) => now(a) || a.away_g > 0))
/** Nothing of what lies there was ever sold: how much of it sells is a guess. */
const unknown = computed(() => !!advice.value?.tubs.length && advice.value.tubs.every((a) => !a.n))
const sentence = computed(() => {
  if (!advice.value?.tubs.length) return say('Nothing in stock has a use-by that presses.')
  if (!today.value.length) return say('Nothing need be reduced today.')
  const gain = today.value.reduce((sum, a) => sum + Number(a.gain), 0)
  const tubs = counted(today.value.length, 'tub')
  if (unknown.value) return say`Nothing is known yet of what sells here: by a guess, ${tubs} would be reduced today.`
  return say`${tubs} to reduce or clear today: ${money(gain, true)} against holding the price.`
})
/** What is to be done, in a few words. */
function says(a: Row): string {
  const away = a.away_g > 0 ? say`${mass(a.away_g, 2)} to dice, mince or freeze` : ''
  if (a.away) return say`All of it to dice, mince or freeze today`
  if (now(a)) return [say`Reduce by ${percent(a.now_pct, 0)} today`, away].filter(Boolean).join('; ')
  if (away) return away
  if (a.lower_in > 0) {
    const day = a.plan[a.lower_in]
    return say`Hold; less from ${day ? plainDay(day.day) : say('later')} if any is left`
  }
  return a.off_pct > 0 ? say`Hold at ${percent(a.off_pct, 0)} off` : say('Hold the price')
}
const columns: ListColumn<Row>[] = [
  { id: 'name', head: say('What'), by: (a) => a.tub.name },
  { id: 'left', head: say('There is'), by: (a) => a.tub.left_g, number: true },
  { id: 'use', head: say('Use by'), by: (a) => a.tub.use_by, whole: true },
  { id: 'sells', head: say('Sells a day'), by: (a) => a.per_day, number: true },
  { id: 'do', head: say('What to do'), by: (a) => (now(a) ? 0 : a.lower_in < 0 ? 99 : a.lower_in + 1) },
  { id: 'price', head: say('Price'), number: true },
  { id: 'gain', head: say('Against holding'), by: (a) => Number(a.gain), number: true },
]
const reasons = ref<Record<string, string>>({})
const reasonOf = (a: Row) => reasons.value[a.tub.id] ?? say`use by ${plainDay(a.tub.use_by)}`
const book = (a: Row, off: number) =>
  attempt(async () => {
    const undo = await booking.book({
      tub: a.tub.id,
      kind: 'reduced',
      off_pct: String(off),
      note: reasonOf(a),
      source: 'typed',
    })
    await refetch()
    const back = async () => {
      await undo()
      await refetch()
    }
    const what = off ? say`reduced by ${percent(off, 0)}` : say('at its full price again')
    done(say`${tubName(a.tub)}: ${what}. Print new labels and tickets.`, back)
  })
</script>

<template>
  <section class="page">
    <h1 class="sentence" data-test="reduce-sentence">{{ sentence }}</h1>
    <StateNote :error="error" :loading="isLoading" what="what should be reduced" @retry="refetch()" />
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <p v-if="unknown">
      Let it know what sells before you lower a price: read a till’s file on the
      <RouterLink :to="{ name: 'sales' }">sales page</RouterLink>, or book what is sold in stock.
    </p>
    <template v-if="advice">
      <ListTable
        v-if="advice.tubs.length"
        :rows="advice.tubs"
        :columns="columns"
        :row-key="rowKey"
        :opened="form.open"
        label="What should be sold for less"
      >
        <template #name="{ row: a }"
          ><button
            type="button"
            class="row-opens"
            :aria-expanded="form.open === a.tub.id"
            :data-reduce="a.tub.id"
            @click="turn(a)"
          >
            {{ a.tub.name }}</button
          ><span class="small row-beside">{{ placeNames[a.tub.place] }}</span></template
        >
        <template #left="{ row: a }">{{ mass(a.tub.left_g, 2) }}</template>
        <template #use="{ row: a }">{{ plainDay(a.tub.use_by) }}</template>
        <template #sells="{ row: a }"
          >{{ mass(a.per_day * a.pack_g, 2)
          }}<span class="small row-beside">{{ a.n ? `n = ${a.n}` : say('never sold') }}</span></template
        >
        <template #do="{ row: a }"
          ><strong v-if="now(a) || a.away_g > 0">{{ says(a) }}</strong
          ><template v-else>{{ says(a) }}</template></template
        >
        <template #price="{ row: a }"
          >{{ money(a.price)
          }}<template v-if="now(a)">
            → <strong>{{ money(a.asked) }}</strong></template
          ></template
        >
        <template #gain="{ row: a }">{{ money(a.gain, true) }}</template>
        <template #opened="{ row: a }">
          <div class="more">
            <table v-wide>
              <caption>
                If things go as they most likely do
              </caption>
              <thead>
                <tr>
                  <th>Day</th>
                  <th class="n">There in the morning</th>
                  <th class="n">Off the price</th>
                  <th class="n">Sells</th>
                </tr>
              </thead>
              <tbody>
                <tr v-for="d in a.plan" :key="d.day">
                  <td>{{ plainDay(d.day) }}</td>
                  <td class="n">{{ mass(d.packs * a.pack_g, 2) }}</td>
                  <td class="n">{{ percent(d.off_pct, 0) }}</td>
                  <td class="n">{{ mass(d.sells * a.pack_g, 2) }}</td>
                </tr>
              </tbody>
            </table>
            <p class="small">
              Brings {{ money(a.brings) }}, with the price held {{ money(a.held) }}. Left at the end
              {{ mass(a.left_g, 2) }}, with the price held {{ mass(a.held_left_g, 2) }}. Cut small, minced or frozen a
              kilo brings {{ money(a.elsewhere) }}.
            </p>
            <form v-if="may('POST /goods/events')" class="row" novalidate @submit.prevent="book(a, a.now_pct)">
              <label class="why"
                >Why
                <input
                  :value="reasonOf(a)"
                  :aria-label="say`Why ${a.tub.name} is reduced`"
                  maxlength="200"
                  @input="reasons[a.tub.id] = ($event.target as HTMLInputElement).value"
              /></label>
              <PvButton
                v-if="now(a)"
                type="submit"
                :label="say`Reduce by ${percent(a.now_pct, 0)}`"
                :loading="busy"
                data-test="reduce"
              />
              <PvButton
                v-for="step in advice!.steps.filter((x) => x !== a.now_pct && x !== a.off_pct)"
                :key="step"
                severity="secondary"
                :label="percent(step, 0)"
                :aria-label="say`Reduce ${a.tub.name} by ${percent(step, 0)}`"
                :disabled="busy"
                @click="book(a, step)"
              />
              <PvButton v-if="a.off_pct > 0" text label="Full price again" :disabled="busy" @click="book(a, 0)" />
            </form>
          </div>
        </template>
      </ListTable>
      <p class="small">
        The plan that brings the most, over every number of packs that can be left each day. What sells is Poisson about
        what this shop sells on that day of the week; {{ advice.elasticity }} % more sells for each per cent off. What
        must go first is sold first. Never sell past a use-by; what is minced must be young enough.
      </p>
    </template>
  </section>
</template>

<style scoped>
.more {
  padding: 6px 0 14px;
  max-width: 760px;
}
.row {
  flex-wrap: wrap;
  align-items: center;
  gap: 10px;
}
.why {
  display: inline-flex;
  gap: 8px;
  align-items: center;
}
.why input {
  font: inherit;
  min-height: 44px;
  width: 220px;
  padding: 0 8px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
}
</style>
