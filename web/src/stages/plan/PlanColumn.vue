<script setup lang="ts">
// One plan on this piece, line by line: products, prices that can be changed, costs.
import { computed } from 'vue'
import type { S } from '../../api/client'
import { useCardPath } from '../../cooking/useCardPath'
import { useShop } from '../../shell/shop'
import { useMenuNames } from '../../shop/useMenuNames'
import { percent } from '../../words/shown'
import { useMe } from '../../shell/me'
import { portionWords } from '../../plans/portions'
import TrimByUse from '../../value/TrimByUse.vue'
import PriceCell from './PriceCell.vue'
import { say } from '../../words/say'

const props = defineProps<{ plan: S['PlanForecast']; piece?: string }>()
const emit = defineEmits<{ priced: [] }>()
const { bare, money, unit, pricePer } = useShop()
const { may } = useMe()
const { menuName } = useMenuNames()
const { cardPath } = useCardPath()
/** A carcass: what it becomes is cut further before it is sold. */
const further = computed(() => props.plan.products.some((r) => r.id !== 'waste' && r.id !== 'loss' && !r.key))
</script>

<template>
  <article class="plan" :data-ledger="plan.plan.id">
    <h2>
      {{ plan.plan.name }}<span v-if="plan.plan.own" class="small"> our own, version {{ plan.plan.version }}</span>
    </h2>
    <table v-wide>
      <thead>
        <tr>
          <th>Product</th>
          <th class="n">{{ unit }}</th>
          <th class="n">Price</th>
          <th class="n">Value</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in plan.products" :key="r.id" :class="r.kind">
          <td>
            <a
              v-if="r.key && !r.goes_on && r.kind === 'meat' && piece"
              class="plain"
              :href="cardPath(piece, r.id, plan.plan.own ? plan.plan.id : undefined)"
              target="_blank"
              :aria-label="say`${r.name}: how it is cooked`"
              >{{ r.name }}</a><template v-else>{{ r.name }}</template
            ><span v-if="menuName(r.key)" class="small many">sold as {{ menuName(r.key) }}</span
            ><span v-if="r.goes_on" class="small many"
              >goes on as a piece, at what it brings cut the traditional way</span
            ><span v-if="r.portions" class="small many">{{ portionWords(r, bare, unit) }}</span>
          </td>
          <td class="n">{{ bare(r.weight_g, 2) }}</td>
          <td class="n">
            <PriceCell
              v-if="r.key && !r.goes_on && may('PUT /prices/{product_key}')"
              :row="r"
              @priced="emit('priced')"
            /><template v-else-if="r.key"
              >{{ r.price ? money(r.price) : '–' }}{{ r.price_per === 'lb' ? '/lb' : '' }}</template
            >
          </td>
          <td class="n">{{ r.key ? money(r.value) : '' }}</td>
        </tr>
      </tbody>
      <tbody>
        <tr v-if="further">
          <td colspan="4" class="small">The pieces are cut further before they are sold.</td>
        </tr>
      </tbody>
      <tbody v-if="!further">
        <tr class="total">
          <td colspan="3">Sales</td>
          <td class="n">{{ money(plan.totals.sales) }}</td>
        </tr>
        <tr>
          <td colspan="3">Packaging</td>
          <td class="n">{{ money(-Number(plan.totals.packaging)) }}</td>
        </tr>
        <tr>
          <td colspan="3">Labour, {{ plan.totals.minutes }} minutes</td>
          <td class="n">{{ money(-Number(plan.totals.labour)) }}</td>
        </tr>
        <tr v-if="Number(plan.totals.discard)">
          <td colspan="3">Discard</td>
          <td class="n">{{ money(-Number(plan.totals.discard)) }}</td>
        </tr>
        <tr v-if="plan.totals.ingredients">
          <td colspan="3">Ingredients</td>
          <td class="n">{{ money(-Number(plan.totals.ingredients)) }}</td>
        </tr>
        <tr>
          <td colspan="3">Purchase</td>
          <td class="n">{{ money(-Number(plan.totals.purchase)) }}</td>
        </tr>
        <tr class="total value">
          <td colspan="3">Value, {{ pricePer(plan.totals.per_kg) }}</td>
          <td class="n">{{ money(plan.totals.value) }}</td>
        </tr>
      </tbody>
    </table>
    <p v-if="plan.unpriced.length" class="fault">
      No price yet, counted as nothing: {{ plan.unpriced.join(', ') }}.
      {{ may('PUT /prices/{product_key}') ? say('Select the dash to set one.') : '' }}
    </p>
    <p v-if="!further" class="small">
      Saleable {{ percent(plan.saleable_pct) }} · by-product {{ percent(plan.by_product_pct) }} · waste and loss
      {{ percent(plan.waste_pct + plan.loss_pct) }}. {{ money(plan.totals.per_hour || 0) }} a bench hour before labour.
    </p>
    <TrimByUse />
    <p class="why">{{ plan.plan.why }}</p>
  </article>
</template>

<style scoped>
.plan {
  display: flex;
  flex-direction: column;
  gap: 12px;
  padding: 14px 16px 16px;
  border: 1px solid var(--hairline);
  background: var(--surface);
}
h2 {
  min-height: 46px;
}
td,
th {
  padding: 4px 6px;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
td:last-child,
th:last-child {
  padding-right: 0;
}
tr.waste td,
tr.loss td {
  color: var(--ink-2);
}
.many {
  display: block;
}
.plain {
  color: inherit;
  text-decoration-style: dotted;
  text-decoration-thickness: 1px;
}
.value {
  font-size: 18px;
}
.why {
  font-size: 13px;
  color: var(--ink-2);
}
</style>
