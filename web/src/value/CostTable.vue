<script setup lang="ts">
// What each product and each muscle of a side cost, by the joint-cost method one chooses.
import { ref } from 'vue'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { percent, shortName } from '../words/shown'
import { say } from '../words/say'

defineProps<{ side: S['Alternative']; method?: S['CostMethod']; margin: number }>()
const { mass, money, perUnit, pricePer, unit } = useShop()
const muscles = ref(false)
</script>

<template>
  <section class="costs" data-test="costs">
    <div class="row">
      <h3>{{ side.name }}: what each {{ muscles ? say('muscle') : say('product') }} cost</h3>
      <label class="small"><input v-model="muscles" type="checkbox" /> by muscle</label>
    </div>
    <table v-wide>
      <thead>
        <tr>
          <th>{{ muscles ? say('Muscle') : say('Product') }}</th>
          <th class="n">Weight</th>
          <th class="n">Cost</th>
          <th class="n">a {{ unit }}</th>
          <th class="n">{{ muscles ? say`Brings a ${unit}` : say('Sells at') }}</th>
          <th class="n">Margin</th>
          <th class="n">At least, for {{ margin }} %</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="r in muscles ? side.muscles : side.costs" :key="r.id">
          <td>{{ shortName(r.name) }}</td>
          <td class="n">{{ mass(r.weight_g) }}</td>
          <td class="n">{{ money(r.cost) }}</td>
          <td class="n">{{ pricePer(r.cost_per_kg) }}</td>
          <td class="n">{{ pricePer(r.sells_at) }}</td>
          <td class="n">{{ r.margin_pct === undefined ? '–' : percent(r.margin_pct) }}</td>
          <td class="n">{{ r.min_per_kg ? pricePer(r.min_per_kg) : say('credited') }}</td>
        </tr>
        <tr class="total">
          <td>Block, labour, packaging, discard, ingredients</td>
          <td class="n">{{ mass(side.weight_g) }}</td>
          <td class="n">
            {{
              money(
                Number(side.totals.purchase) +
                  Number(side.totals.labour) +
                  Number(side.totals.packaging) +
                  Number(side.totals.discard) +
                  Number(side.totals.ingredients ?? 0),
              )
            }}
          </td>
          <td colspan="4" />
        </tr>
      </tbody>
    </table>
    <p class="small">
      {{ method?.why }} Yield test: a usable {{ unit }} costs {{ money(perUnit(side.usable_cost_per_kg))
      }}<template v-if="side.cost_factor">, {{ side.cost_factor.toFixed(3) }} times the block’s price</template>;
      {{ percent(side.saleable_pct) }} of the block is sold as meat.
    </p>
  </section>
</template>

<style scoped>
.costs {
  margin-top: 22px;
  overflow-x: auto;
}
h3 {
  margin: 0;
  font-size: 18px;
}
td,
th {
  padding: 4px 8px;
}
td:first-child,
th:first-child {
  padding-left: 0;
}
label {
  min-height: 44px;
  display: inline-flex;
  align-items: center;
  gap: 6px;
}
</style>
