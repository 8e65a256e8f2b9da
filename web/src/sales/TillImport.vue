<script setup lang="ts">
// A till's file, or the till itself: its columns mapped once, its names explained once, looked at, then kept.
import { computed, reactive, ref } from 'vue'
import PvButton from 'primevue/button'
import FilePick from '../components/FilePick.vue'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import { useFileImport } from '../components/useFileImport'
import { data, fileBody, POST, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useOrderProducts } from '../orders/useOrders'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { plainDay } from '../words/shown'
import type { useSales } from './useSales'

const props = defineProps<{ sales: ReturnType<typeof useSales>; hasTill: boolean }>()
const { mass, money } = useShop()
const { data: products } = useOrderProducts()
const columns = {
  day: say('Day'),
  item: say('Number or barcode'),
  name: say('Name'),
  packs: say('Packs'),
  weight: say('Weight'),
  amount: say('Amount'),
  kind: say('Sold, reduced, returned, wasted'),
  reason: say('Reason'),
} as const
type Column = keyof typeof columns
const named = reactive<Record<Column, string>>({
  day: '',
  item: '',
  name: '',
  packs: '',
  weight: '',
  amount: '',
  kind: '',
  reason: '',
})
const how = reactive({ mapped: false, unit: 'kg', monthFirst: false, stock: true, till: false })
const heading = ref<string[]>([])
const { chosen, seen, said, busy, problem, look, keep, leave } = useFileImport(send, (done: S['SaleSheet']) =>
  [
    say`${counted(done.good, 'line')} kept, ${money(done.takings)}.`,
    ...done.short.slice(0, 5).map((x) => say`${x.name}: ${mass(x.by_g, 2)} more was sold than lay in stock.`),
  ].join(' '),
)
async function send(file: File, save: boolean) {
  const stock = save && how.stock
  const sheet = how.till
    ? await data(POST('/sales/till', { params: { query: { save, stock } } }))
    : await data(
        POST('/sales/import', {
          params: {
            query: {
              save,
              stock,
              file: file.name,
              ...(how.mapped && { mapped: true, unit: how.unit, month_first: how.monthFirst, ...named }),
            },
          },
          ...fileBody(file),
        }),
      )
  Object.assign(named, sheet.columns)
  Object.assign(how, { unit: sheet.unit, monthFirst: sheet.month_first })
  heading.value = sheet.heading
  if (save) await props.sales.fresh()
  return sheet
}
function start(file: File) {
  Object.assign(how, { mapped: false, till: false })
  void look(file)
}
function fetchTill() {
  Object.assign(how, { mapped: false, till: true })
  void look(new File([], say('the till')))
}
function mapped(column: Column, to?: string) {
  named[column] = to ?? ''
  how.mapped = true
  void look()
}
const naming = useAttempt()
const NOT_OURS = '(not of the counter)'
const choices = computed(() => [
  { key: NOT_OURS, name: say('not of the counter') },
  ...(products.value ?? []).map((p) => ({ key: p.key, name: `${p.name}, ${p.species}` })),
])
const means = (what: string, key: string) =>
  naming.attempt(async () => {
    await props.sales.means(what, key === NOT_OURS ? '' : key)
    await look()
  })
const kinds: Record<string, string> = {
  sold: '',
  reduced: say('reduced'),
  returned: say('returned'),
  wasted: say('thrown away'),
}
const bad = computed(() => seen.value?.lines.filter((l) => l.fault) ?? [])
</script>

<template>
  <section class="till" aria-label="What the till sold">
    <div class="row no-print">
      <FilePick label="Read a till’s file" :busy="busy" test="till-file" @picked="start" />
      <PvButton
        v-if="hasTill"
        severity="secondary"
        label="Fetch from the till"
        :loading="busy"
        data-test="till-fetch"
        @click="fetchTill"
      />
    </div>
    <p v-if="said" role="status">
      <strong data-test="till-said">{{ said }}</strong>
    </p>
    <p v-if="problem" class="fault" role="alert">
      {{ problem.errors.map((e) => `${e.message} ${e.hint ?? ''}`).join(' ') || problem.message }}
    </p>
    <div v-if="seen" class="box stack" data-test="till-sheet">
      <h2>
        {{ chosen?.name }}: {{ counted(seen.good, 'line') }} good, {{ seen.bad }} with a fault, {{ seen.left }} left out
      </h2>
      <p v-if="seen.first" class="small">
        {{ plainDay(seen.first) }}{{ seen.last === seen.first ? '' : say` to ${plainDay(seen.last!)}` }},
        {{ money(seen.takings) }}.
        <template v-if="seen.covered.length"
          >Read in before: {{ seen.covered.map((d) => plainDay(d)).join(', ') }}.</template
        >
      </p>
      <p v-if="seen.missing.length" class="fault">Say in which columns these stand: {{ seen.missing.join(', ') }}.</p>
      <details v-if="!how.till" :open="!!seen.missing.length || !!seen.bad">
        <summary>Which column is which</summary>
        <div class="columns">
          <FormField v-for="(label, c) in columns" :id="`till-${c}`" :key="c" :label="label"
            ><PickOne
              :id="`till-${c}`"
              :model-value="named[c]"
              :options="heading"
              none="(none)"
              @update:model-value="mapped(c, $event)"
          /></FormField>
          <FormField id="till-unit" label="Weights are in"
            ><PickOne
              id="till-unit"
              v-model="how.unit"
              :options="['kg', 'g', 'lb', 'oz']"
              @update:model-value="((how.mapped = true), look())"
          /></FormField>
          <label class="tick-line"
            ><input v-model="how.monthFirst" type="checkbox" @change="((how.mapped = true), look())" /> the month comes
            first: 11/28/2026</label
          >
        </div>
      </details>
      <div v-if="seen.unknown.length" class="names">
        <h3>What the till means by these; it is remembered</h3>
        <FormField
          v-for="u in seen.unknown.slice(0, 40)"
          :id="`means-${u.said.replace(/\W/g, '-')}`"
          :key="u.said"
          :label="`${u.said}, ${counted(u.lines, 'line')}`"
          ><PickOne
            :id="`means-${u.said.replace(/\W/g, '-')}`"
            model-value=""
            :options="choices"
            by="key"
            none="choose"
            @update:model-value="means(u.said, $event)"
        /></FormField>
        <p v-if="naming.problem.value" class="fault" role="alert">{{ naming.problem.value.message }}</p>
      </div>
      <div v-wide class="scroll">
        <table v-wide>
          <thead>
            <tr>
              <th>Line</th>
              <th>Day</th>
              <th>Sold</th>
              <th class="n">Packs</th>
              <th class="n">Weight</th>
              <th class="n">Amount</th>
              <th>Note</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="l in seen.lines.slice(0, bad.length ? 40 : 12)" :key="l.line">
              <td>{{ l.line }}</td>
              <td>{{ l.day ? plainDay(l.day) : '' }}</td>
              <td>{{ l.product ?? l.said }}</td>
              <td class="n">{{ l.packs }}</td>
              <td class="n">{{ mass(l.mass_g) }}</td>
              <td class="n">{{ money(l.amount) }}</td>
              <td>
                <span v-if="l.fault" class="fault">{{ l.fault }}</span><template v-else>{{
                  l.left ?? [kinds[l.kind], l.reason].filter(Boolean).join(', ')
                }}</template>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <label class="tick-line"
        ><input v-model="how.stock" type="checkbox" /> take what was sold out of stock, from the counter first</label
      >
      <div class="row">
        <PvButton
          v-if="seen.good"
          :label="
            seen.bad
              ? say`Keep ${counted(seen.good, 'line')}, leave ${seen.bad}`
              : say`Keep ${counted(seen.good, 'line')}`
          "
          :loading="busy"
          data-test="till-keep"
          @click="keep"
        /><PvButton text label="Keep nothing" @click="leave" />
      </div>
    </div>
  </section>
</template>

<style scoped>
.till {
  margin: 12px 0;
}
.columns,
.names {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: 12px;
  align-items: end;
}
.names h3,
.names p {
  grid-column: 1 / -1;
}
summary {
  min-height: 44px;
  padding-top: 12px;
  cursor: pointer;
}
</style>
