<script setup lang="ts">
// The answer beside the form: what it costs, how old it is, what each plan would bring.
import { computed } from 'vue'
import type { S } from '../../api/client'
import { byWorth } from '../../plans/byWorth'
import { useShop } from '../../shell/shop'
import { percent } from '../../words/shown'
import { say } from '../../words/say'

const props = defineProps<{ forecast?: S['Forecast']; asking: boolean; piece?: S['PieceHit'] }>()
const { mass, money, perUnit, unit } = useShop()
const usual = computed(() =>
  props.piece?.high_g ? say`Usually ${mass(props.piece.low_g, 1)} to ${mass(props.piece.high_g, 1)} a piece.` : '',
)
</script>

<template>
  <aside class="answer" aria-live="polite">
    <template v-if="forecast">
      <div class="facts">
        <div>
          <span class="label">Cost</span><span class="fact">{{ money(forecast.cost) }}</span
          ><span v-if="forecast.pieces > 1" class="small"
            >{{ money(forecast.piece_cost) }} and {{ mass(forecast.piece_g, 2) }} a piece</span
          >
        </div>
        <div>
          <span class="label">Age</span
          ><span class="fact">{{ forecast.age_days === undefined ? '–' : say`${forecast.age_days} days` }}</span>
        </div>
      </div>
      <p v-if="forecast.readiness" class="ready" :class="{ young: !forecast.readiness.ready }">
        {{ forecast.readiness.sentence }}
      </p>
      <p v-else class="small">Enter the slaughter day to see whether it is old enough to steak.</p>
      <p v-for="w in forecast.warnings" :key="w" class="fault">{{ w }}</p>
      <p class="sentence">{{ forecast.sentence }}</p>
      <table v-if="forecast.carcass" v-wide>
        <thead>
          <tr>
            <th>Expected, one carcass</th>
            <th class="n">Sales</th>
            <th class="n">Minutes of the whole run</th>
            <th class="n">Value after all costs</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in forecast.carcass" :key="p.id">
            <td>{{ p.name }}</td>
            <td class="n">{{ money(p.totals.sales) }}</td>
            <td class="n">{{ p.minutes }}</td>
            <td class="n">
              <strong>{{ money(p.totals.value) }}</strong>
            </td>
          </tr>
        </tbody>
      </table>
      <table v-else v-wide>
        <thead>
          <tr>
            <th>Expected, one piece</th>
            <th class="n">Meat</th>
            <th class="n">Sales</th>
            <th class="n">Minutes</th>
            <th class="n">Usable, a {{ unit }}</th>
            <th class="n">Value after all costs</th>
          </tr>
        </thead>
        <tbody>
          <tr
            v-for="p in byWorth(forecast.plans)"
            :key="p.plan.id"
            :class="{ better: p.plan.id === forecast.better_plan }"
          >
            <td>
              {{ p.plan.short }}
              <span v-if="p.plan.short !== p.plan.name" class="small full">{{ p.plan.name }}</span>
            </td>
            <td class="n">{{ percent(p.saleable_pct) }}</td>
            <td class="n">{{ money(p.totals.sales) }}</td>
            <td class="n">{{ p.totals.minutes }}</td>
            <td class="n">{{ money(perUnit(p.usable_cost_per_kg)) }}</td>
            <td class="n">
              <strong>{{ money(p.totals.value) }}</strong>
            </td>
          </tr>
        </tbody>
      </table>
      <p class="small">Estimated from the atlas' typical shares and today's prices.</p>
    </template>
    <template v-else>
      <h2>The answer comes here</h2>
      <p class="small">
        {{ usual }} Enter piece, weight and price, and you see at once what it costs, whether it is old enough to steak,
        and what each way of cutting would bring.
      </p>
    </template>
  </aside>
</template>

<style scoped>
.answer {
  align-self: start;
  position: sticky;
  top: 76px;
  border-left: 1px solid var(--hairline);
  padding-left: 28px;
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.facts {
  display: flex;
  gap: 36px;
}
.facts > div {
  display: flex;
  flex-direction: column;
}
.fact {
  font-size: 32px;
  font-weight: 700;
  font-stretch: 88%;
  line-height: 1.15;
}
.ready {
  font-weight: 650;
}
.ready.young {
  color: var(--act);
}
th.n {
  max-width: 90px;
  white-space: normal;
}
tr.better td {
  border-bottom: 2px solid var(--act);
}
td .full {
  display: block;
}
td:first-child {
  padding-left: 0;
}
th:first-child {
  padding-left: 0;
}
</style>
