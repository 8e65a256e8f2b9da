<script setup lang="ts">
// What became of the stock lately, by product: sold, used, thrown away, and what counts have found.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import { useAddressForm } from '../components/useAddressForm'
import { keyOf } from '../api/keys'
import { data, GET, type S } from '../api/client'
import { useShop } from '../shell/shop'
import { say } from '../words/say'

const { mass, money } = useShop()
const form = useAddressForm({ days: '7' })
const stretches = { '7': say('7 days'), '30': say('30 days'), '90': say('90 days') }
const {
  data: rows,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('goods-became', form.days)),
  queryFn: () => data(GET('/goods/became', { params: { query: { days: Number(form.days) || 7 } } })),
  placeholderData: (was) => was,
})
type Row = S['GoodsBecame']
const columns: ListColumn<Row>[] = [
  { id: 'name', head: say('Product'), by: (r) => r.name },
  { id: 'sold', head: say('Sold'), by: (r) => r.sold_g, number: true },
  { id: 'used', head: say('Into batches'), by: (r) => r.used_g, number: true },
  { id: 'wasted', head: say('Thrown away'), by: (r) => r.wasted_g, number: true },
  { id: 'diff', head: say('Counts found'), by: (r) => r.difference_g, number: true },
]
const rowKey = (r: Row) => r.key
const sum = (of: (r: Row) => number) => (rows.value ?? []).reduce((all, r) => all + of(r), 0)
const sentence = computed(() => {
  if (!rows.value?.length) return say('Nothing became of anything in that time.')
  const wasted = sum((r) => r.wasted_g)
  const lost = sum((r) => Number(r.wasted_worth ?? 0))
  const off = sum((r) => Number(r.difference_worth ?? 0))
  return (
    say`${mass(
      sum((r) => r.sold_g),
      1,
    )} sold; ${mass(wasted, 1)} thrown away, ${money(lost)} at today’s prices; ` +
    say`counts found ${money(off, true)}.`
  )
})
const worth = (text?: string) => (text && Number(text) ? money(text, Number(text) > 0) : '')
</script>

<template>
  <section class="became">
    <div class="spread">
      <h2 data-test="became">{{ rows ? sentence : say('What became of it') }}</h2>
      <UnitToggle v-model="form.days" :options="Object.keys(stretches)" :names="stretches" label="In the last" />
    </div>
    <StateNote :error="error" :loading="isLoading" what="the sums" @retry="refetch()" />
    <ListTable
      v-if="rows?.length"
      :rows="rows"
      :columns="columns"
      :row-key="rowKey"
      :page-size="15"
      label="By product"
      name="of"
    >
      <template #name="{ row: r }"
        >{{ r.name }} <span class="small">{{ r.species }}</span></template
      >
      <template #sold="{ row: r }">{{ r.sold_g ? mass(r.sold_g, 2) : '–' }}</template>
      <template #used="{ row: r }">{{ r.used_g ? mass(r.used_g, 2) : '–' }}</template>
      <template #wasted="{ row: r }"
        >{{ r.wasted_g ? mass(r.wasted_g, 2) : '–' }} <span class="small">{{ worth(r.wasted_worth) }}</span></template
      >
      <template #diff="{ row: r }"
        >{{ r.difference_g ? mass(r.difference_g, 3) : '–' }}
        <span class="small">{{ worth(r.difference_worth) }}</span></template
      >
    </ListTable>
  </section>
</template>

<style scoped>
.became {
  margin: 12px 0 24px;
}
</style>
