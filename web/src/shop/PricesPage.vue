<script setup lang="ts">
// The price list: touched to change one, as a file to change many.
import { computed } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import StateNote from '../components/StateNote.vue'
import { data, GET, POST, type S } from '../api/client'
import { useFileImport } from '../components/useFileImport'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import PriceCell from '../stages/plan/PriceCell.vue'

const queries = useQueryClient()
const { may } = useMe()
const { money } = useShop()
const { data: prices, error, isLoading, refetch } = useQuery({ queryKey: ['prices'], queryFn: () => data(GET('/prices')) })
const own = computed(() => may('PUT /prices/{product_key}'))
const missing = computed(() => prices.value?.filter((p) => !p.price).length ?? 0)
const sentence = computed(() => (missing.value ? `${missing.value} of ${prices.value?.length} products have no price yet.` : `All ${prices.value?.length} products have a price.`))
const words = { new: 'new', changed: 'changes', same: 'stands already', bad: 'left out' } as const

const { chosen, seen, said, busy, problem, look, keep, leave } = useFileImport(
  (file, save) => data(POST('/prices/import', { params: { query: { save } }, headers: { 'Content-Type': 'application/octet-stream' }, body: '', bodySerializer: () => file })),
  (done: S['PriceImport']) => `${done.set} price${done.set === 1 ? '' : 's'} set.`,
)
const cell = (p: S['Price']) => ({ key: p.key, name: p.name, price: p.price || undefined, price_per: p.per, price_version: p.version })
</script>

<template>
  <StateNote :error="error" :loading="isLoading" what="the prices" @retry="refetch()" />
  <template v-if="prices">
    <div class="spread"><p class="sentence">{{ sentence }}</p>
      <span class="row no-print">The list as <a href="/api/v1/prices/export?format=csv" download>CSV</a> <a href="/api/v1/prices/export?format=xlsx" download>XLSX</a>
        <label v-if="may('POST /prices/import')" class="pick"><input ref="picker" class="vh" type="file" accept=".csv,.xlsx,text/csv" @change="look" /><span>Read a list in</span></label></span></div>
    <p v-if="said" role="status"><strong>{{ said }}</strong></p>
    <p v-if="problem" class="fault" role="alert">{{ problem.at('file') ? `The file ${problem.at('file').charAt(0).toLowerCase()}${problem.at('file').slice(1)}` : problem.message }}</p>
    <section v-if="seen" class="box" aria-label="What the list would do">
      <h2>{{ chosen?.name }}: {{ seen.set }} to set, {{ seen.same }} stand already, {{ seen.bad }} left out</h2>
      <table><thead><tr><th>Line</th><th>Product</th><th class="n">Was</th><th class="n">Becomes</th><th>What it does</th></tr></thead><tbody>
        <tr v-for="l in seen.lines" :key="l.line" :class="l.state"><td>{{ l.line }}</td><td>{{ l.product }}</td><td class="n">{{ l.was }}</td><td class="n">{{ l.price }}{{ l.per ? ` per ${l.per}` : '' }}</td><td><strong>{{ words[l.state] }}</strong> <span v-if="l.fault" class="fault">{{ l.fault }}</span></td></tr>
      </tbody></table>
      <div class="row"><PvButton v-if="seen.set" :label="seen.bad ? `Set the ${seen.set}, leave ${seen.bad} out` : `Set the ${seen.set}`" :disabled="busy" @click="keep" /><PvButton text label="Set nothing" @click="leave" /></div>
    </section>
    <table class="prices"><thead><tr><th>Product</th><th>Kind</th><th>Key</th><th class="n">Price</th></tr></thead><tbody>
      <tr v-for="p in prices" :key="p.key + p.version"><td>{{ p.name }}</td><td class="small">{{ p.species }}, {{ p.kind === 'meat' ? 'meat' : 'by-product' }}</td><td class="small">{{ p.key }}</td>
        <td class="n"><PriceCell v-if="own" :row="cell(p)" @priced="queries.invalidateQueries()" /><template v-else>{{ p.price ? money(p.price) : '–' }}</template> <span v-if="p.price" class="small">per {{ p.per }}</span></td></tr>
    </tbody></table>
    <p class="small note">Pieces that are closed keep the prices of their day.</p>
  </template>
</template>

<style scoped>
.pick { cursor: pointer; }
.pick span { display: inline-flex; align-items: center; min-height: 44px; padding: 0 16px; border: 1px solid var(--ink); border-radius: 2px; background: var(--surface); font-weight: 650; }
.pick:focus-within span { outline: 3px solid var(--act); outline-offset: 2px; }
.box { margin: 14px 0; display: flex; flex-direction: column; gap: 12px; }
tr.same td { color: var(--ink-2); }
.note { margin-top: 8px; }
.prices { margin-top: 14px; max-width: 860px; }
</style>
