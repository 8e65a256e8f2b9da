<script setup lang="ts">
// Every product with its default price and what it costs on each market, side by side; grouped by what it is cut from.
import { computed } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import { pricedBy, refresh } from '../api/keys'
import type { S } from '../api/client'
import { useAtlasPieces } from '../atlas/useAtlasPieces'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import PickOne from '../components/PickOne.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { useAddressForm } from '../components/useAddressForm'
import { useShop } from '../shell/shop'
import { plainDay, shortName } from '../words/shown'
import PriceCell from '../stages/plan/PriceCell.vue'
import MenuNameCell from './MenuNameCell.vue'
import RaiseBox from './RaiseBox.vue'
import { speciesChoices, speciesName } from '../words/species'
import { say } from '../words/say'

const props = defineProps<{ book: S['PriceBook']; tax: boolean; own: boolean }>()
const queries = useQueryClient()
const { money } = useShop()
const { data: pieces } = useAtlasPieces()

const find = useAddressForm({ q: '', kind: 'all', piece: '', missing: false, guessed: false })
const missing = computed(() => props.book.rows.filter((r) => !r.product.price).length)
const guessed = computed(() => props.book.rows.filter((r) => r.product.guess).length)
const kinds = computed(() => speciesChoices(props.book.rows.map((r) => r.product.species)))
const rows = computed(() => {
  const q = find.q.trim().toLowerCase()
  return props.book.rows.filter(
    (r) =>
      (find.kind === 'all' || r.product.species === find.kind) &&
      (!find.piece || r.pieces.includes(find.piece)) &&
      (!find.missing || !r.product.price) &&
      (!find.guessed || r.product.guess) &&
      (!q || [r.product.name, r.product.key, r.product.menu_name ?? ''].some((x) => x.toLowerCase().includes(q))),
  )
})

const nameOf = computed(() => new Map(pieces.value?.map((p) => [p.id, shortName(p.house_name)])))
const group = (r: S['BookRow']) => {
  const species = speciesName(r.product.species)
  if (r.pieces.length === 1) {
    const name = nameOf.value.get(r.pieces[0]!)
    return name ? `${species}: ${name}` : species
  }
  return r.pieces.length ? say`${species}, from several pieces` : say`${species}, with the carcass`
}
const choices = computed(() =>
  (pieces.value ?? [])
    .filter((p) => find.kind === 'all' || p.species === find.kind)
    .map((p) => ({ id: p.id, name: p.house_name })),
)

const markets = computed(() => props.book.markets.filter((m) => m.active))
const at = (r: S['BookRow'], market: string) => r.at.find((x) => x.market === market)
const columns = computed<ListColumn<S['BookRow']>[]>(() => [
  { id: 'name', head: say('Product'), by: (r) => r.product.name },
  { id: 'price', head: say('Default price'), by: (r) => Number(r.product.price || 0), number: true },
  ...markets.value.map((m) => ({
    id: m.id,
    head: m.name + (props.tax ? say`, with ${m.tax_pct} %` : ''),
    by: (r: S['BookRow']) => Number(at(r, m.id)?.price ?? 0),
    number: true,
  })),
])
const shown = (x: S['BookPrice'] | undefined) => (x?.price ? money((props.tax && x.with_tax) || x.price) : '–')
function source(x: S['BookPrice']) {
  const whose = x.source === 'feed' ? say('from the feed') : say('its own')
  return [whose, x.season, say`since ${plainDay(x.valid_from!)}`].filter(Boolean).join(', ')
}
const isOwn = (x: S['BookPrice'] | undefined) => x?.source === 'market' || x?.source === 'feed'

const cell = (r: S['BookRow']) => ({
  key: r.product.key,
  name: r.product.name,
  price: r.product.price || undefined,
  price_per: r.product.per,
  price_version: r.product.version,
  ...(r.product.guess && { guess: r.product.guess }),
})
/** What a price moves: the book, and all that is reckoned with it. */
const priced = () => refresh(queries, ...pricedBy)
</script>

<template>
  <form class="row find no-print" aria-label="Which prices" @submit.prevent>
    <InputText v-model="find.q" type="search" placeholder="Product" aria-label="Product" />
    <UnitToggle v-model="find.kind" :options="kinds.ids" :names="kinds.names" label="Species" />
    <PickOne v-model="find.piece" :options="choices" label="Cut from" none="from any piece" />
    <label class="tick"><input v-model="find.missing" type="checkbox" /> no price yet ({{ missing }})</label>
    <label v-if="guessed" class="tick"><input v-model="find.guessed" type="checkbox" /> guessed ({{ guessed }})</label>
  </form>
  <RaiseBox v-if="own" :rows="rows" @changed="priced" />
  <ListTable
    class="prices"
    :rows="rows"
    :columns="columns"
    :row-key="(r) => r.product.key + r.product.version"
    :group="group"
    label="Prices"
    empty="No product fits."
  >
    <template #name="{ row: r }"
      >{{ r.product.name }}<span v-if="r.product.kind !== 'meat'" class="small"> by-product</span
      ><MenuNameCell v-if="own" :product="r.product" @named="priced" /><span
        v-else-if="r.product.menu_name"
        class="small source"
        >sold as {{ r.product.menu_name }}</span
      ></template
    >
    <template #price="{ row: r }"
      ><PriceCell v-if="own" :row="cell(r)" @priced="priced" /><template v-else>{{
        r.product.price ? money(r.product.price) : '–'
      }}</template
      ><span v-if="r.product.price" class="small"> per {{ r.product.per }}</span
      ><span v-if="r.product.guess" class="small source"
        >guess, {{ money(r.product.guess.low) }} to {{ money(r.product.guess.high) }}</span
      ></template
    >
    <template v-for="m in markets" :key="m.id" #[m.id]="{ row: r }">
      <strong v-if="isOwn(at(r, m.id))"
        >{{ shown(at(r, m.id)) }}<span class="small source">{{ source(at(r, m.id)!) }}</span></strong
      ><span v-else class="default">{{ shown(at(r, m.id)) }}</span>
    </template>
  </ListTable>
</template>

<style scoped>
.find {
  margin: 14px 0;
  flex-wrap: wrap;
}
.find .p-inputtext {
  width: min(260px, 100%);
}
.find :deep(.p-select) {
  max-width: 300px;
}
.default {
  color: var(--ink-2);
}
.source {
  display: block;
  font-weight: 400;
}
.prices {
  margin-top: 14px;
}
</style>
