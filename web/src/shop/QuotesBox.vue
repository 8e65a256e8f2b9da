<script setup lang="ts">
// The prices that one market has of its own: by season, from a day on.
import PvButton from 'primevue/button'
import { useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { data, DELETE, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { plainDay } from '../words/shown'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import PickOne from '../components/PickOne.vue'
import QuoteForm from './QuoteForm.vue'
import { say } from '../words/say'

const props = defineProps<{ book: S['PriceBook'] }>()
const market = defineModel<string>({ required: true })
const queries = useQueryClient()
const { may } = useMe()
const { money } = useShop()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const here = computed(() => props.book.markets.find((m) => m.id === props.book.market))
const columns: ListColumn<S['Quote']>[] = [
  { id: 'product', head: say('Product'), by: (q) => q.name },
  { id: 'season', head: say('Season'), by: (q) => q.season },
  { id: 'from', head: say('From'), by: (q) => q.valid_from },
  { id: 'price', head: say('Price'), by: (q) => Number(q.price), number: true },
  { id: 'state', head: say('State'), by: (q) => q.state },
  { id: 'change', head: say('Change') },
]
const states = {
  in_force: say('holds'),
  to_come: say('to come'),
  over: say('replaced'),
  other_season: say('other season'),
} as const
const drop = (q: S['Quote']) =>
  attempt(async () => {
    await data(DELETE('/quotes/{quote_id}', { params: { path: { quote_id: q.id }, query: { version: q.version } } }))
    done(say`${q.name}: removed.`)
    await queries.invalidateQueries()
  })
</script>

<template>
  <details class="box no-print">
    <summary>
      <strong>Prices of {{ here?.name }}</strong>
      {{ book.quotes.length ? say`${book.quotes.length} of its own` : say('none of its own: the default prices hold') }}
    </summary>
    <p class="row">
      Market
      <PickOne
        v-model="market"
        label="Market"
        :options="book.markets.filter((x) => !x.main)"
        :none="book.markets.find((m) => m.main)?.name"
      />
    </p>
    <QuoteForm v-if="may('PUT /quotes')" :key="book.market + book.day" :book="book" @done="done" />
    <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
    <ListTable
      v-if="book.quotes.length"
      data-test="quotes"
      name="q"
      :rows="book.quotes"
      :columns="columns"
      :row-key="(q) => q.id + q.version"
      :row-class="(q) => (q.state === 'in_force' ? undefined : 'same')"
      label="Prices of this market"
    >
      <template #product="{ row: q }">{{ q.name }}</template>
      <template #season="{ row: q }">{{ q.season || say('the whole year') }}</template>
      <template #from="{ row: q }">{{ plainDay(q.valid_from) }} {{ q.valid_from.slice(0, 4) }}</template>
      <template #price="{ row: q }"
        >{{ money(q.price) }} per {{ q.per }}<span v-if="q.piece_g" class="small"> of {{ q.piece_g }} g</span></template
      >
      <template #state="{ row: q }"
        >{{ states[q.state] }}<span v-if="q.source === 'feed'" class="small"> from the feed</span></template
      >
      <template #change="{ row: q }"
        ><PvButton v-if="may('DELETE /quotes/{quote_id}')" text label="Remove" :disabled="busy" @click="drop(q)"
      /></template>
    </ListTable>
  </details>
</template>

<style scoped>
:deep(tr.same td) {
  color: var(--ink-2);
}
</style>
