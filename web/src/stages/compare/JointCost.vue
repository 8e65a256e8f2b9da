<script setup lang="ts">
// What each product of the block cost, by the joint-cost method one chooses, beside the price at which it breaks even.
import { computed } from 'vue'
import type { S } from '../../api/client'
import PickOne from '../../components/PickOne.vue'
import { useShop } from '../../shell/shop'
import { percent } from '../../words/shown'
import { say } from '../../words/say'

const props = defineProps<{ comparison: S['Comparison'] }>()
const method = defineModel<Method>({ required: true })
const { mass, money, perUnit, pricePer, unit, unitWord } = useShop()
/** In the order of the table of products, each with the price at which both ways come out the same. */
const rows = computed(() =>
  props.comparison.costs
    .map((r) => {
      const at = props.comparison.recorded.products.findIndex((x) => x.key === r.id)
      const id = props.comparison.recorded.products[at]?.id
      return { ...r, at, even: props.comparison.break_even.find((x) => x.id === id)?.price }
    })
    .sort((a, b) => a.at - b.at),
)
const all = computed(() => {
  const t = props.comparison.recorded.totals
  return Number(t.purchase) + Number(t.labour) + Number(t.packaging) + Number(t.discard) + Number(t.ingredients ?? 0)
})
const atAnyPrice = computed(() =>
  Number(props.comparison.difference) >= 0 ? say('pays at any price') : say('at no price'),
)
const why = computed(() => methods.find((m) => m.id === method.value)?.why)
</script>

<script lang="ts">
/** The ways to share a joint cost, the usual one first. */
export const methods = [
  { id: 'nrv', name: say('Net realisable value'), why: say('by what each brings; the usual choice') },
  { id: 'sales_value', name: say('Sales value'), why: say('by what each sells for') },
  { id: 'physical', name: say('Weight'), why: say('every kilo costs the same; simple, and unfair to the trim') },
  { id: 'constant_margin', name: say('Constant margin'), why: say('every product earns the same margin') },
] as const
export type Method = (typeof methods)[number]['id']
</script>

<template>
  <section class="joint">
    <div class="row">
      <h2>What each product cost</h2>
      <span class="small"
        >shared by
        <PickOne v-model="method" label="Joint-cost method" :options="methods" />
        {{ why }}</span
      >
    </div>
    <table v-wide>
      <thead>
        <tr>
          <th>Product</th>
          <th class="n">Weight</th>
          <th class="n">Share of the costs</th>
          <th class="n">Cost</th>
          <th class="n">a {{ unit }}</th>
          <th class="n">Sells at</th>
          <th class="n">Break-even price</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in rows" :key="r.id">
          <td>{{ r.name }}</td>
          <td class="n">{{ mass(r.weight_g) }}</td>
          <td class="n">{{ r.share_pct === undefined ? '' : percent(r.share_pct) }}</td>
          <td class="n">{{ money(r.cost) }}</td>
          <td class="n">{{ pricePer(r.cost_per_kg) }}</td>
          <td class="n">{{ pricePer(r.sells_at) }}</td>
          <td class="n">{{ r.even ? pricePer(r.even) : atAnyPrice }}</td>
        </tr>
        <tr class="total">
          <td>Block, labour, packaging, discard, ingredients</td>
          <td class="n" />
          <td class="n" />
          <td class="n">{{ money(all) }}</td>
          <td colspan="3" />
        </tr>
      </tbody>
    </table>
    <p class="small">
      Yield test: a usable {{ unitWord }} costs {{ money(perUnit(comparison.recorded.usable_cost_per_kg)) }}. Breaks
      even: the price of this product alone at which both ways of cutting come out the same.
    </p>
  </section>
</template>

<style scoped>
.joint {
  margin-top: 28px;
}
td {
  padding: 4px 8px;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
</style>
