<script setup lang="ts">
// The price book: default prices, and what each market has in its seasons and from a day on; touched to change one, as
// a file or by a percentage to change many.
import { computed, ref } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import DayPick from '../components/DayPick.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET } from '../api/client'
import { useMe } from '../shell/me'
import { dayOr } from '../words/typed'
import { counted, say } from '../words/say'
import DemandBox from './DemandBox.vue'
import GuessBox from './GuessBox.vue'
import MarketsBox from './MarketsBox.vue'
import PriceImport from './PriceImport.vue'
import PriceTable from './PriceTable.vue'
import QuotesBox from './QuotesBox.vue'

const { may } = useMe()
const market = ref('')
const day = ref('')
const tax = ref(false)
const asked = computed(() => ({
  ...(market.value && { market: market.value }),
  ...(day.value.trim() && { day: dayOr(day.value) }),
}))
const {
  data: book,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('price-book', asked.value)),
  queryFn: () => data(GET('/price-book', { params: { query: asked.value } })),
  placeholderData: keepPreviousData,
  retry: false,
})
const sentence = computed(() => {
  const rows = book.value?.rows ?? []
  const missing = rows.filter((r) => !r.product.price).length
  const guesses = rows.filter((r) => r.product.guess).length
  const season = book.value?.season ? say` It is ${book.value.season}.` : ''
  if (!missing && guesses) return say`${guesses} of ${counted(rows.length, 'price')} are guesses.${season}`
  return missing
    ? say`${missing} of ${counted(rows.length, 'product')} have no price yet.${season}`
    : say`All ${rows.length} products have a price.${season}`
})
</script>

<template>
  <StateNote :error="error" :loading="isLoading" what="the prices" @retry="refetch()" />
  <template v-if="book">
    <div class="spread head">
      <p class="sentence">{{ sentence }}</p>
      <PriceImport :has-feed="book.has_feed" />
    </div>
    <div v-if="book.markets.length" class="row which no-print">
      <span class="row">On date <DayPick id="day" v-model="day" lazy placeholder="today" label="Day" /></span>
      <label class="tick"><input v-model="tax" type="checkbox" /> show with tax</label>
    </div>
    <GuessBox v-if="may('POST /prices/guesses')" :rows="book.rows" />
    <MarketsBox v-if="may('POST /markets')" :markets="book.markets" />
    <DemandBox :rows="book.rows" :seasons="book.seasons" :own="may('PUT /demands')" />
    <QuotesBox v-if="book.market" v-model="market" :book="book" />
    <PriceTable :book="book" :tax="tax" :own="may('PUT /prices/{product_key}')" />
    <p class="small note">
      <strong>Bold</strong> is a market's own price; in grey the default holds. Pieces that are closed keep the prices
      of their day. A price by the piece is reckoned by what one weighs.
    </p>
  </template>
</template>

<style scoped>
.head {
  flex-wrap: wrap;
}
.which {
  gap: 20px;
  margin: 8px 0;
}
.which label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
  min-height: 44px;
}
.which :deep(.p-inputtext) {
  width: 150px;
}
.box {
  margin: 14px 0;
}
.note {
  margin-top: 8px;
}
</style>
