<script setup lang="ts">
// What sells in a week at its full price, and what the rest brings: read by the best use and the whole carcass.
import { reactive } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import StateNote from '../components/StateNote.vue'
import { data, GET, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import PickOne from '../components/PickOne.vue'
import { useShop } from '../shell/shop'
import { say } from '../words/say'

defineProps<{ rows: S['BookRow'][]; seasons: S['Season'][]; own: boolean }>()
const queries = useQueryClient()
const { mass, money, unit } = useShop()
const {
  data: list,
  error,
  isLoading,
  refetch,
} = useQuery({ queryKey: keyOf('demands'), queryFn: () => data(GET('/demands')) })
const { busy, problem, attempt } = useAttempt()
const form = reactive({ key: '', season: '', week: '', fallback: '' })
const send = (body: S['NewDemand']) =>
  attempt(async () => {
    await data(PUT('/demands', { body }))
    await queries.invalidateQueries()
  })
const add = () =>
  send({
    product_key: form.key,
    season: form.season,
    week: form.week.trim() || 'x',
    unit: unit.value,
    fallback: form.fallback,
    version: list.value?.find((d) => d.product_key === form.key && d.season === form.season)?.version ?? 0,
  })
const drop = (d: S['Demand']) => send({ product_key: d.product_key, season: d.season, week: '', version: d.version })
const columns: ListColumn<S['Demand']>[] = [
  { id: 'product', head: say('Product'), by: (d) => d.name },
  { id: 'season', head: say('Season'), by: (d) => d.season },
  { id: 'week', head: say('Per week'), by: (d) => d.week_g, number: true },
  { id: 'rest', head: say('The rest, per kg'), by: (d) => Number(d.fallback), number: true },
  { id: 'change', head: say('Change') },
]
const words: Record<string, string> = {
  week: say('The week'),
  fallback: say('What the rest brings'),
  product_key: say('The product'),
  season: say('The season'),
}
</script>

<template>
  <details class="box">
    <summary>
      <strong>Demand</strong>
      {{
        list?.length ? say`${list.length} products sell only so much a week` : say('all that is cut sells at its price')
      }}
    </summary>
    <StateNote :error="error" :loading="isLoading" what="the demand" @retry="refetch()" />
    <ListTable
      v-if="list?.length"
      data-test="demand"
      name="d"
      :rows="list"
      :columns="columns"
      :row-key="(d) => d.product_key + d.season"
      label="Demand"
    >
      <template #product="{ row: d }">{{ d.name }}</template>
      <template #season="{ row: d }">{{ d.season || say('the whole year') }}</template>
      <template #week="{ row: d }">{{ mass(d.week_g, 1) }}</template>
      <template #rest="{ row: d }">{{ money(d.fallback) }}</template>
      <template #change="{ row: d }"
        ><PvButton v-if="own" text label="Remove" :disabled="busy" @click="drop(d)"
      /></template>
    </ListTable>
    <form v-if="own" class="row no-print" novalidate aria-label="Demand of a product" @submit.prevent="add">
      <PickOne
        v-model="form.key"
        label="Product"
        :options="rows"
        by="product.key"
        called="product.name"
        none="choose a product"
      /><PickOne v-model="form.season" label="Season" :options="seasons" by="name" none="the whole year" /><label
        >sells <input v-model="form.week" class="short" inputmode="decimal" aria-label="A week" /> {{ unit }} a
        week,</label
      ><label
        >the rest at
        <input v-model="form.fallback" class="short" inputmode="decimal" aria-label="The rest, a kilogram" /> a
        kg</label
      ><PvButton type="submit" severity="secondary" label="Set it" :disabled="busy || !form.key" />
    </form>
    <p v-if="problem" class="fault" role="alert">
      {{
        problem.errors.map((e) => `${words[e.field] ?? ''} ${e.message}. ${e.hint ?? ''}`).join(' ') || problem.message
      }}
    </p>
  </details>
</template>

<style scoped>
.box {
  margin: 12px 0;
}
.short {
  font: inherit;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  max-width: 240px;
}
.short {
  width: 76px;
  text-align: right;
  padding: 0 8px;
}
.row {
  flex-wrap: wrap;
  margin: 10px 0;
}
label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
</style>
