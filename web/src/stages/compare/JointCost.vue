<script setup lang="ts">
// What each product of the block cost, by the joint-cost method one chooses, beside the price at which it breaks even.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import StateNote from '../../components/StateNote.vue'
import { data, POST, type S } from '../../api/client'
import { gramsPerPound, percent, useShop } from '../../shell/shop'

const props = defineProps<{ comparison: S['Comparison'] }>()
const { mass, money, pricePer, unit } = useShop()
const methods = [
  { id: 'nrv', name: 'Net realisable value', why: 'by what each brings; the usual choice' },
  { id: 'sales_value', name: 'Sales value', why: 'the same here, as nothing is processed further' },
  { id: 'physical', name: 'Weight', why: 'every kilo costs the same; simple, and unfair to the trim' },
  { id: 'constant_margin', name: 'Constant margin', why: 'every product earns the same margin' },
] as const
const method = ref<(typeof methods)[number]['id']>('nrv')
const sold = computed(() => props.comparison.recorded.products.filter((r) => r.key && r.weight_g > 0))
const perKg = (r: S['OutputRow']) => Number(r.price ?? 0) * (r.price_per === 'lb' ? 1000 / gramsPerPound : 1)
const { data: joint, error, refetch } = useQuery({
  queryKey: computed(() => ['joint', props.comparison.breakdown_id, props.comparison.against.plan.id, method.value]),
  queryFn: () => data(POST('/calc/joint-cost', { body: {
    joint_cost: props.comparison.recorded.totals.purchase, method: method.value,
    products: sold.value.map((r) => ({ id: r.id, quantity: r.weight_g / 1000, split_price: perKg(r).toFixed(6) })),
  } })),
})
const rows = computed(() => sold.value.map((r) => {
  const a = joint.value?.allocations.find((x) => x.id === r.id)
  const b = props.comparison.break_even.find((x) => x.id === r.id)
  return { r, cost: a?.cost, share: a?.share_pct, perKg: a ? Number(a.cost) / (r.weight_g / 1000) : undefined, even: b?.price }
}))
const atAnyPrice = computed(() => (Number(props.comparison.difference) >= 0 ? 'pays at any price' : 'at no price'))
const why = computed(() => methods.find((m) => m.id === method.value)?.why)
</script>

<template>
  <section class="joint">
    <div class="row"><h2>What each product cost</h2><label class="small">shared by <select v-model="method" aria-label="Joint-cost method"><option v-for="m in methods" :key="m.id" :value="m.id">{{ m.name }}</option></select> {{ why }}</label></div>
    <StateNote :error="error" what="the costs" @retry="refetch()" />
    <table v-if="joint">
      <thead><tr><th>Product</th><th class="n">Weight</th><th class="n">Share of the purchase</th><th class="n">Cost</th><th class="n">a {{ unit }}</th><th class="n">Sells at</th><th class="n">Breaks even at</th></tr></thead>
      <tbody>
        <tr v-for="x in rows" :key="x.r.id">
          <td>{{ x.r.name }}</td><td class="n">{{ mass(x.r.weight_g) }}</td><td class="n">{{ percent(x.share ?? 0) }}</td><td class="n">{{ money(x.cost ?? 0) }}</td>
          <td class="n">{{ pricePer(x.perKg ?? 0) }}</td><td class="n">{{ pricePer(perKg(x.r)) }}</td><td class="n">{{ x.even ? pricePer(x.even) : atAnyPrice }}</td>
        </tr>
        <tr class="total"><td colspan="3">Purchase</td><td class="n">{{ money(comparison.recorded.totals.purchase) }}</td><td colspan="3" /></tr>
      </tbody>
    </table>
    <p class="small">Breaks even: the price of this product alone at which both ways of cutting come out the same.</p>
  </section>
</template>

<style scoped>
.joint { margin-top: 28px; }
select { font: inherit; min-height: 36px; border: 1px solid var(--line); border-radius: 2px; background: var(--surface); color: var(--ink); }
td { padding: 4px 8px; }
td:first-child, th:first-child { padding-left: 0; }
</style>
