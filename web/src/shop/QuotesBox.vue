<script setup lang="ts">
// The prices that one market has of its own: by season, from a day on.
import PvButton from 'primevue/button'
import { useQueryClient } from '@tanstack/vue-query'
import { computed } from 'vue'
import { data, DELETE, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useMe } from '../shell/me'
import { plainDay, useShop } from '../shell/shop'
import PickOne from '../components/PickOne.vue'
import QuoteForm from './QuoteForm.vue'

const props = defineProps<{ book: S['PriceBook'] }>()
const market = defineModel<string>({ required: true })
const queries = useQueryClient()
const { may } = useMe()
const { money } = useShop()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const here = computed(() => props.book.markets.find((m) => m.id === props.book.market))
const states = { in_force: 'holds', to_come: 'to come', over: 'replaced', other_season: 'other season' } as const
const drop = (q: S['Quote']) =>
  attempt(async () => {
    await data(DELETE('/quotes/{quote_id}', { params: { path: { quote_id: q.id }, query: { version: q.version } } }))
    done(`${q.name}: removed.`)
    await queries.invalidateQueries()
  })
</script>

<template>
  <details class="box no-print">
    <summary>
      <strong>Prices of {{ here?.name }}</strong>
      {{ book.quotes.length ? `${book.quotes.length} of its own` : 'none of its own: the default prices hold' }}
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
    <table v-if="book.quotes.length" v-wide data-test="quotes">
      <thead>
        <tr>
          <th>Product</th>
          <th>Season</th>
          <th>From</th>
          <th class="n">Price</th>
          <th>State</th>
          <th><span class="vh">Change</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="q in book.quotes" :key="q.id + q.version" :class="{ same: q.state !== 'in_force' }">
          <td>{{ q.name }}</td>
          <td>{{ q.season || 'the whole year' }}</td>
          <td>{{ plainDay(q.valid_from) }} {{ q.valid_from.slice(0, 4) }}</td>
          <td class="n">
            {{ money(q.price) }} a {{ q.per }}<span v-if="q.piece_g" class="small"> of {{ q.piece_g }} g</span>
          </td>
          <td>{{ states[q.state] }}<span v-if="q.source === 'feed'" class="small"> from the feed</span></td>
          <td>
            <PvButton v-if="may('DELETE /quotes/{quote_id}')" text label="Remove" :disabled="busy" @click="drop(q)" />
          </td>
        </tr>
      </tbody>
    </table>
  </details>
</template>

<style scoped>
tr.same td {
  color: var(--ink-2);
}
</style>
