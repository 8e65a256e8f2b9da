<script setup lang="ts">
// The price book: standing prices, and what each market has in its seasons and from a day on; touched to change one, as
// a file to change many.
import { computed, ref } from 'vue'
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import StateNote from '../components/StateNote.vue'
import { data, fileBody, DELETE, GET, POST, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFileImport } from '../components/useFileImport'
import { useMe } from '../shell/me'
import { plainDay, useShop } from '../shell/shop'
import { isDay, typedDay } from '../stages/receive/typed'
import PriceCell from '../stages/plan/PriceCell.vue'
import DemandBox from './DemandBox.vue'
import MarketsBox from './MarketsBox.vue'
import { counted } from '../words/counted'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { useAddressForm } from '../components/useAddressForm'
import InputText from 'primevue/inputtext'
import PickOne from '../components/PickOne.vue'
import FilePick from '../components/FilePick.vue'
import QuoteForm from './QuoteForm.vue'

const queries = useQueryClient()
const { may } = useMe()
const { money } = useShop()
const market = ref('')
const day = ref('')
const tax = ref(false)
const asked = computed(() => {
  const d = typedDay(day.value)
  return {
    ...(market.value && { market: market.value }),
    ...(day.value.trim() && { day: isDay(d) ? d : day.value.trim() }),
  }
})
const {
  data: book,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => ['price-book', asked.value]),
  queryFn: () => data(GET('/price-book', { params: { query: asked.value } })),
  placeholderData: keepPreviousData,
  retry: false,
})
const own = computed(() => may('PUT /prices/{product_key}'))
const missing = computed(() => book.value?.rows.filter((p) => !p.price).length ?? 0)
const here = computed(() => book.value?.markets.find((m) => m.id === book.value?.market))
const where = computed(
  () => (here.value ? ` at “${here.value.name}”` : '') + (book.value?.season ? `, in ${book.value.season}` : ''),
)
const sentence = computed(() =>
  missing.value
    ? `${missing.value} of ${book.value?.rows.length} products have no price yet.`
    : `All ${book.value?.rows.length} products have a price${where.value}.`,
)
const words = { new: 'new', changed: 'changes', same: 'stands already', bad: 'left out' } as const
const states = { in_force: 'holds', to_come: 'to come', over: 'replaced', other_season: 'other season' } as const

const feed = ref(false)
const { chosen, seen, said, busy, problem, look, keep, leave } = useFileImport(
  (file, save) =>
    feed.value
      ? data(POST('/prices/feed', { params: { query: { save } } }))
      : data(
          POST('/prices/import', {
            params: { query: { save } },
            ...fileBody(file),
          }),
        ),
  (done: S['PriceImport']) => `${done.set} price${done.set === 1 ? '' : 's'} set.`,
)
const lookAtFile = (file: File) => {
  feed.value = false
  void look(file)
}
const { busy: fetching, problem: silent, attempt } = useAttempt()
const fetchFeed = () =>
  attempt(async () => {
    feed.value = true
    chosen.value = new File([], 'The market feed')
    said.value = ''
    seen.value = await data(POST('/prices/feed', { params: { query: { save: false } } }))
  })
const cell = (r: S['BookRow']) => ({
  key: r.product.key,
  name: r.product.name,
  price: r.product.price || undefined,
  price_per: r.product.per,
  price_version: r.product.version,
})
const find = useAddressForm({ q: '', kind: 'all', missing: false })
const shownRows = computed(() => {
  const q = find.q.trim().toLowerCase()
  return (book.value?.rows ?? []).filter(
    (r) =>
      (find.kind === 'all' || r.product.species === find.kind) &&
      (!find.missing || !r.price) &&
      (!q || r.product.name.toLowerCase().includes(q) || r.product.key.includes(q)),
  )
})
const columns = computed<ListColumn<S['BookRow']>[]>(() => [
  { id: 'name', head: 'Product', by: (r) => r.product.name },
  { id: 'kind', head: 'Kind', by: (r) => r.product.species + r.product.kind },
  { id: 'price', head: 'Default price', by: (r) => Number(r.product.price || 0), number: true },
  ...(here.value
    ? [
        {
          id: 'here',
          head: `Price at ${here.value.name}${tax.value ? ', with tax' : ''}`,
          by: (r: S['BookRow']) => Number(r.price ?? 0),
          number: true,
        },
        { id: 'source', head: 'Source', by: sourceOf },
      ]
    : []),
])
function sourceOf(r: S['BookRow']) {
  if (r.source === 'standing') return ''
  if (r.source === 'none') return 'no price'
  const whose = r.source === 'feed' ? 'the feed' : 'its own'
  return [whose, r.season, `from ${plainDay(r.valid_from!)}`].filter(Boolean).join(', ')
}
/** What a price moves: the book, and all that is reckoned with it. */
const priced = () =>
  Promise.all(['price-book', 'prices', 'piece', 'desk'].map((key) => queries.invalidateQueries({ queryKey: [key] })))
const drop = (q: S['Quote']) =>
  attempt(async () => {
    await data(DELETE('/quotes/{quote_id}', { params: { path: { quote_id: q.id }, query: { version: q.version } } }))
    said.value = `${q.name}: taken out.`
    await queries.invalidateQueries()
  })
</script>

<template>
  <StateNote :error="error" :loading="isLoading" what="the prices" @retry="refetch()" />
  <template v-if="book">
    <div class="spread">
      <p class="sentence">{{ sentence }}</p>
      <span class="row no-print"
        >The list as <a href="/api/v1/prices/export?format=csv" download>CSV</a>
        <a href="/api/v1/prices/export?format=xlsx" download>XLSX</a>
        <FilePick v-if="may('POST /prices/import')" label="Import prices" @picked="lookAtFile" />
        <PvButton
          v-if="book.has_feed && may('POST /prices/feed')"
          severity="secondary"
          label="Fetch market prices"
          :loading="fetching"
          data-test="feed"
          @click="fetchFeed"
      /></span>
    </div>
    <div v-if="book.markets.length" class="row which no-print">
      <span class="one"
        >Market
        <PickOne
          v-model="market"
          label="Market"
          :options="book.markets.filter((x) => !x.main)"
          :none="book.markets.find((m) => m.main)?.name" /></span
      ><label>On date <input v-model.lazy="day" placeholder="today" aria-label="Day" /></label
      ><label
        ><input v-model="tax" type="checkbox" /> show with tax{{ here?.tax_pct ? ` (${here.tax_pct} %)` : '' }}</label
      >
    </div>
    <p v-if="said" role="status">
      <strong>{{ said }}</strong>
    </p>
    <p v-if="silent" class="fault" role="alert">
      {{ silent.errors[0] ? `${silent.errors[0].message} ${silent.errors[0].hint ?? ''}` : silent.message }}
    </p>
    <p v-if="problem" class="fault" role="alert">
      {{
        problem.at('file')
          ? `The file ${problem.at('file').charAt(0).toLowerCase()}${problem.at('file').slice(1)}`
          : problem.message
      }}
    </p>
    <section v-if="seen" class="box" aria-label="What the list would do">
      <h2>{{ chosen?.name }}: {{ seen.set }} to set, {{ seen.same }} stand already, {{ seen.bad }} left out</h2>
      <table v-wide>
        <thead>
          <tr>
            <th>Line</th>
            <th>Product</th>
            <th>Where</th>
            <th class="n">Was</th>
            <th class="n">Becomes</th>
            <th>What it does</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="l in seen.lines" :key="l.line" :class="l.state">
            <td>{{ l.line }}</td>
            <td>{{ l.product }}</td>
            <td>{{ l.where ?? 'everywhere' }}</td>
            <td class="n">{{ l.was }}</td>
            <td class="n">{{ l.price }}{{ l.per ? ` per ${l.per}` : '' }}</td>
            <td>
              <strong>{{ words[l.state] }}</strong> <span v-if="l.fault" class="fault">{{ l.fault }}</span>
            </td>
          </tr>
        </tbody>
      </table>
      <div class="row">
        <PvButton
          v-if="seen.set"
          :label="
            seen.bad
              ? `Save ${counted(seen.set, 'price')}, leave ${seen.bad} out`
              : `Save ${counted(seen.set, 'price')}`
          "
          :disabled="busy"
          @click="keep"
        /><PvButton text label="Cancel" @click="leave" />
      </div>
    </section>
    <MarketsBox v-if="may('POST /markets')" :markets="book.markets" />
    <DemandBox :rows="book.rows" :seasons="book.seasons" :own="may('PUT /demands')" />
    <details v-if="book.market" class="box no-print">
      <summary>
        <strong>Prices of {{ here?.name }}</strong>
        {{ book.quotes.length ? `${book.quotes.length} of its own` : 'none of its own: the standing prices hold' }}
      </summary>
      <QuoteForm v-if="may('PUT /quotes')" :key="book.market + book.day" :book="book" @done="said = $event" />
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
              <PvButton
                v-if="may('DELETE /quotes/{quote_id}')"
                text
                label="Remove"
                :disabled="fetching"
                @click="drop(q)"
              />
            </td>
          </tr>
        </tbody>
      </table>
    </details>
    <form class="row find no-print" aria-label="Which prices" @submit.prevent>
      <InputText v-model="find.q" type="search" placeholder="Product" aria-label="Product" />
      <UnitToggle
        v-model="find.kind"
        :options="['all', 'beef', 'lamb']"
        :names="{ all: 'All', beef: 'Beef', lamb: 'Lamb' }"
        label="Species"
      />
      <label class="tick"><input v-model="find.missing" type="checkbox" /> no price yet ({{ missing }})</label>
    </form>
    <ListTable
      class="prices"
      :rows="shownRows"
      :columns="columns"
      :row-key="(r) => r.product.key + r.product.version"
      label="Prices"
      empty="No product fits."
    >
      <template #name="{ row: r }">{{ r.product.name }}</template>
      <template #kind="{ row: r }"
        ><span class="small"
          >{{ r.product.species }}, {{ r.product.kind === 'meat' ? 'meat' : 'by-product' }}</span
        ></template
      >
      <template #price="{ row: r }"
        ><PriceCell v-if="own" :row="cell(r)" @priced="priced" /><template v-else>{{
          r.product.price ? money(r.product.price) : '–'
        }}</template>
        <span v-if="r.product.price" class="small">per {{ r.product.per }}</span></template
      >
      <template #here="{ row: r }">{{ r.price ? `${money(tax ? r.with_tax! : r.price)} per ${r.per}` : '–' }}</template>
      <template #source="{ row: r }"
        ><span class="small">{{ sourceOf(r) }}</span></template
      >
    </ListTable>
    <p class="small note">
      Pieces that are closed keep the prices of their day. A price by the piece is reckoned by what one weighs.
    </p>
  </template>
</template>

<style scoped>
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
.which input:not([type]) {
  font: inherit;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  padding: 0 8px;
  max-width: 220px;
}
.find {
  margin: 14px 0;
}
.find .p-inputtext {
  width: min(320px, 100%);
}
.box {
  margin: 14px 0;
}
section.box {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
summary {
  cursor: pointer;
  min-height: 44px;
  padding-top: 10px;
}
tr.same td {
  color: var(--ink-2);
}
.note {
  margin-top: 8px;
}
.prices {
  margin-top: 14px;
  max-width: 1080px;
}
</style>
