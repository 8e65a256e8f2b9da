<script setup lang="ts">
// What sells in a week, with what one can be sure of; files of tills; trials of names.
import { computed } from 'vue'
import FileLinks from '../components/FileLinks.vue'
import { filesIn } from '../components/entries'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import StateNote from '../components/StateNote.vue'
import { useAddressForm } from '../components/useAddressForm'
import type { S } from '../api/client'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { percent, plainDay } from '../words/shown'
import NamingTrials from './NamingTrials.vue'
import SaleFiles from './SaleFiles.vue'
import SaleSettings from './SaleSettings.vue'
import SoldProduct from './SoldProduct.vue'
import TillImport from './TillImport.vue'
import { useSales } from './useSales'

const { mass, money, pricePer } = useShop()
const { may } = useMe()
const sales = useSales()
const { data: s, error, isLoading, refetch } = sales
const form = useAddressForm({ open: '' })
type Row = S['SoldProduct']
const columns: ListColumn<Row>[] = [
  { id: 'name', head: say('Product'), by: (p) => p.name },
  { id: 'packs', head: say('Packs in a week'), by: (p) => p.forecast.mean, number: true, whole: true },
  { id: 'mass', head: say('Weight in a week'), by: (p) => p.mean_g, number: true, whole: true },
  { id: 'full', head: say('At full price'), by: (p) => p.full_pct ?? 0, number: true },
  { id: 'realised', head: say('A kilo that went brought'), by: (p) => Number(p.per_kg ?? 0), number: true },
  { id: 'takings', head: say('Takings, 4 weeks'), by: (p) => Number(p.takings), number: true },
]
const rowKey = (p: Row) => p.key
const turn = (p: Row) => (form.open = form.open === p.key ? '' : p.key)
const sentence = computed(() => {
  const list = s.value?.products ?? []
  if (!list.length) return say('Nothing is known of what sells yet.')
  const best = list[0]!
  const { low, high } = best.forecast
  return say`${best.name} brings the most: ${low} to ${high} packs in a week, ${mass(best.mean_g, 1)} most likely.`
})
/** How often what came lay in the interval that was forecast for it. */
const kept = computed(() => {
  const told = (s.value?.products ?? []).flatMap((p) => p.weeks.filter((w) => w.within !== undefined))
  return { told: told.length, within: told.filter((w) => w.within).length }
})
const files = filesIn(['csv', 'xlsx', 'json'], (f) => `/api/v1/sales/export?format=${f}`)
</script>

<template>
  <section class="page">
    <div class="spread">
      <h1 class="sentence" data-test="sales-sentence">{{ sentence }}</h1>
      <FileLinks v-if="s?.products.length && may('GET /sales/export')" lead="All sales as" :files="files" />
    </div>
    <StateNote :error="error" :loading="isLoading" what="the sales" @retry="refetch()" />
    <template v-if="s">
      <p v-if="s.first" class="small">
        Sales are known from {{ plainDay(s.first) }} to {{ plainDay(s.last!) }}: {{ counted(s.weeks, 'whole week')
        }}{{ s.season ? say`; those of ${s.season} count` : '' }}.
        <template v-if="kept.told"
          >Of {{ kept.told }} forecasts of a week {{ kept.within }} came true (about 80 % should).</template
        >
      </p>
      <TillImport v-if="may('POST /sales/import')" :sales="sales" :has-till="s.has_till" />
      <ListTable
        v-if="s.products.length"
        :rows="s.products"
        :columns="columns"
        :row-key="rowKey"
        :opened="form.open"
        :page-size="25"
        label="What sells"
      >
        <template #name="{ row: p }"
          ><button
            type="button"
            class="row-opens"
            :aria-expanded="form.open === p.key"
            :data-product="p.key"
            @click="turn(p)"
          >
            {{ p.name }}</button
          ><span class="small row-beside">{{ p.species }}</span></template
        >
        <template #packs="{ row: p }"
          ><strong>{{ Math.round(p.forecast.mean) }}</strong
          ><span class="small row-beside">{{ p.forecast.low }} to {{ p.forecast.high }}</span></template
        >
        <template #mass="{ row: p }"
          >{{ mass(p.mean_g, 1) }}<span class="small row-beside">n = {{ p.n }}</span></template
        >
        <template #full="{ row: p }">{{ p.full_pct === undefined ? '–' : percent(p.full_pct, 0) }}</template>
        <template #realised="{ row: p }">{{ p.per_kg ? pricePer(p.per_kg) : '–' }}</template>
        <template #takings="{ row: p }">{{ money(p.takings) }}</template>
        <template #opened="{ row: p }"
          ><SoldProduct :product="p" :monday="s.monday" :season="s.season ?? ''" :as-demand="sales.asDemand"
        /></template>
      </ListTable>
      <p v-if="s.products.length" class="small">
        A week: gamma–Poisson on packs, later weeks weigh more; the interval holds four weeks of five. At full price: of
        all that went in four weeks, sold and thrown away.
      </p>
      <NamingTrials
        :trials="s.trials"
        :products="s.products"
        :may="may('POST /sales/trials')"
        :begin="sales.begin"
        :stop="sales.stop"
      />
      <SaleFiles v-if="s.files.length" :files="s.files" :may="may('POST /sales/import')" :undo="sales.undo" />
      <SaleSettings v-if="may('PUT /sales/settings')" :settings="s.settings" :keep="sales.set" />
    </template>
  </section>
</template>
