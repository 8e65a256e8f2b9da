<script setup lang="ts">
// What came out, what it sells for, and what is left after all costs.
import type { S } from '../../api/client'
import { useShop } from '../../shell/shop'
import { percent } from '../../words/shown'
import { portionWords } from '../../plans/portions'
import PriceCell from '../plan/PriceCell.vue'
import { say } from '../../words/say'

const emit = defineEmits<{ priced: [] }>()
defineProps<{ title: string; sheet: S['PlanForecast'] }>()
const { bare, mass, money, unit } = useShop()
const short = { measured: say('measured'), given: say('given'), estimated: say('estimated') }
</script>

<template>
  <table v-wide>
    <caption>
      {{
        title
      }}
    </caption>
    <thead>
      <tr>
        <th>Output</th>
        <th class="n">{{ unit }}</th>
        <th class="n">Yield</th>
        <th class="n">Price</th>
        <th class="n">Value</th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="r in sheet.products" :key="r.id">
        <td>
          {{ r.name }} <span class="small">{{ portionWords(r, bare, unit) }} {{ short[r.basis] }}</span>
        </td>
        <td class="n">{{ bare(r.weight_g) }}</td>
        <td class="n">{{ percent(r.yield_pct) }}</td>
        <td class="n">
          <template v-if="r.price">{{ money(r.price) }}/{{ r.price_per }}</template
          ><PriceCell v-else-if="r.key" :row="r" @priced="emit('priced')" />
        </td>
        <td class="n">{{ r.key ? money(r.value) : '' }}</td>
      </tr>
    </tbody>
    <tbody>
      <tr class="total">
        <td>Altogether, and its sales</td>
        <td class="n">{{ mass(sheet.products.reduce((s, r) => s + r.weight_g, 0)) }}</td>
        <td />
        <td />
        <td class="n">{{ money(sheet.totals.sales) }}</td>
      </tr>
      <tr>
        <td colspan="4">Packaging</td>
        <td class="n">{{ money(-Number(sheet.totals.packaging)) }}</td>
      </tr>
      <tr>
        <td colspan="4">
          Labour, {{ sheet.totals.minutes.toFixed(1) }} minutes
          <span class="small">{{ sheet.totals.minutes_basis }}</span>
        </td>
        <td class="n">{{ money(-Number(sheet.totals.labour)) }}</td>
      </tr>
      <tr v-if="Number(sheet.totals.discard)">
        <td colspan="4">Discard</td>
        <td class="n">{{ money(-Number(sheet.totals.discard)) }}</td>
      </tr>
      <tr v-if="sheet.totals.ingredients">
        <td colspan="4">Ingredients</td>
        <td class="n">{{ money(-Number(sheet.totals.ingredients)) }}</td>
      </tr>
      <tr>
        <td colspan="4">Purchase</td>
        <td class="n">{{ money(-Number(sheet.totals.purchase)) }}</td>
      </tr>
      <tr class="total">
        <td colspan="4">
          Value after all costs<template v-if="sheet.totals.per_hour"
            >; before labour {{ money(sheet.totals.per_hour) }} a bench hour</template
          >
        </td>
        <td class="n">{{ money(sheet.totals.value) }}</td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
caption {
  text-align: left;
  font-weight: 700;
  font-size: 15px;
  padding-bottom: 6px;
}
td {
  padding: 4px 6px;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
</style>
