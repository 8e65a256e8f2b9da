<script setup lang="ts">
// A plate for the eye: each product a dot, how it eats across and what a kilogram brings up. What is dear and eats
// badly lies top left; what is cheap and eats well bottom right. Dots are as large as the products are heavy.
import { computed, ref, useTemplateRef } from 'vue'
import KeepPicture from '../../charts/KeepPicture.vue'
import type { S } from '../../api/client'
import { gradeName } from '../../grades/grades'
import { useShop } from '../../shell/shop'
import { percent } from '../../words/shown'
import { ticks } from './bridge'
import { say } from '../../words/say'

const props = defineProps<{ plans: S['PlanForecast'][] }>()
const { mass, money, perUnit, unitWord } = useShop()
const [W, H, left, top, foot, right] = [760, 360, 74, 24, 44, 16]
const kg = (r: S['OutputRow']) => Number(r.price ?? 0) / (r.price_per === 'lb' ? 0.45359237 : 1)
const rows = computed(() =>
  props.plans.flatMap((p, side) =>
    p.products
      .filter((r) => r.plate && r.price && r.weight_g > 0)
      .map((r) => ({
        id: `${side}-${r.id}`,
        side,
        plan: p.plan.short,
        row: r,
        plate: r.plate!,
        price: perUnit(kg(r)),
      })),
  ),
)
const low = 30
const high = 90
const x = (score: number) => left + ((Math.min(high, Math.max(low, score)) - low) / (high - low)) * (W - left - right)
const dearest = computed(() => Math.max(1, ...rows.value.map((r) => r.price)) * 1.12)
const y = (price: number) => H - foot - (price / dearest.value) * (H - top - foot)
const heaviest = computed(() => Math.max(1, ...rows.value.map((r) => r.row.weight_g)))
const dots = computed(() =>
  [...rows.value]
    .sort((a, b) => b.row.weight_g - a.row.weight_g)
    .map((r) => ({
      ...r,
      x: x(r.plate.score),
      y: y(r.price),
      r: 5 + 17 * Math.sqrt(r.row.weight_g / heaviest.value),
      says:
        say`${r.row.name}, ${r.plan}: ${mass(r.row.weight_g, 2)} at ${money(r.price)} a ${unitWord.value}, ` +
        say`eats like ${gradeName(r.plate.grade)}, ${r.plate.score} points; the worst in it is ${r.plate.worst}, ` +
        say`${r.plate.worst_score}; ${percent(r.plate.spoilt_pct, 0)} of bites below 3`,
    })),
)
const cuts = [
  { at: 46.5, name: 'below 3', from: low },
  { at: 64, name: 'grade 3', from: 46.5 },
  { at: 76, name: 'grade 4', from: 64 },
  { at: high, name: 'grade 5', from: 76 },
]
const prices = computed(() => ticks(0, dearest.value).map((v) => ({ y: y(v), text: money(v) })))
const at = ref('')
const here = computed(() => dots.value.find((d) => d.id === at.value))
const drawing = useTemplateRef<SVGSVGElement>('drawing')
</script>

<template>
  <figure v-if="rows.length" v-wide class="plate" data-test="plates">
    <figcaption class="label">
      What a {{ unitWord }} brings and how it eats, as it is sold<template v-if="plans.length > 1"
        >: filled “{{ plans[0]!.plan.short }}”, open “{{ plans[1]!.plan.short }}”</template
      >
    </figcaption>
    <svg ref="drawing" :viewBox="`0 0 ${W} ${H}`" role="group" aria-label="Products by price and eating quality">
      <g aria-hidden="true">
        <g v-for="c in cuts" :key="c.name">
          <line v-if="c.at < high" :x1="x(c.at)" :x2="x(c.at)" :y1="top" :y2="H - foot" class="cut" />
          <text :x="(x(c.from) + x(c.at)) / 2" :y="H - foot + 18" class="axis">{{ c.name }}</text>
        </g>
        <g v-for="p in prices" :key="p.y">
          <line :x1="left" :x2="W - right" :y1="p.y" :y2="p.y" class="grid" />
          <text :x="left - 8" :y="p.y + 4" class="axis end">{{ p.text }}</text>
        </g>
        <text :x="left + 8" :y="top + 14" class="corner">dear, eats badly</text>
        <text :x="W - right - 8" :y="H - foot - 10" class="corner end">cheap, eats well</text>
      </g>
      <g
        v-for="d in dots"
        :key="d.id"
        tabindex="0"
        role="img"
        class="dot"
        :aria-label="d.says"
        @focus="at = d.id"
        @pointerenter="at = d.id"
        @click="at = d.id"
      >
        <circle :cx="d.x" :cy="d.y" :r="d.r" :class="[d.side ? 'open' : 'filled', { on: at === d.id }]" />
      </g>
    </svg>
    <p class="small told" aria-live="polite">{{ here?.says ?? say('Touch a dot to read it.') }}</p>
    <KeepPicture :of="() => drawing" file="plates" />
    <details class="small">
      <summary>As a table</summary>
      <table v-wide>
        <thead>
          <tr>
            <th>Product</th>
            <th>Way</th>
            <th class="n">Price</th>
            <th class="n">Eats like</th>
            <th>Worst in it</th>
            <th class="n">Bites below 3</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="d in rows" :key="d.id">
            <td>{{ d.row.name }}</td>
            <td>{{ d.plan }}</td>
            <td class="n">{{ money(d.price) }}</td>
            <td class="n">{{ gradeName(d.plate.grade) }}, {{ d.plate.score }}</td>
            <td>{{ d.plate.worst }}, {{ d.plate.worst_score }}</td>
            <td class="n">{{ percent(d.plate.spoilt_pct, 0) }}</td>
          </tr>
        </tbody>
      </table>
    </details>
  </figure>
</template>

<style scoped>
.plate {
  margin: 18px 0 0;
  max-width: 860px;
}
svg {
  width: 100%;
  height: auto;
  display: block;
}
.grid {
  stroke: var(--hairline);
}
.cut {
  stroke: var(--line);
  stroke-dasharray: 3 4;
}
text {
  fill: var(--ink-2);
  font-size: 12px;
}
.axis {
  text-anchor: middle;
}
.end {
  text-anchor: end;
}
.corner {
  font-size: 13px;
  font-style: italic;
}
.filled {
  fill: var(--act);
  fill-opacity: 0.85;
  stroke: var(--surface);
}
.open {
  fill: none;
  stroke: var(--ink);
  stroke-width: 2;
}
.on {
  stroke: var(--seam);
  stroke-width: 4;
}
.dot:focus-visible {
  outline: 3px solid var(--act);
  outline-offset: 2px;
}
.told {
  min-height: 38px;
  margin: 4px 0;
}
summary {
  cursor: pointer;
  min-height: 44px;
  padding-top: 12px;
}
</style>
