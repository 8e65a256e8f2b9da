<script setup lang="ts">
// A whole animal: how each of its pieces is cut, and what the whole costs beside its cuts one by one.
import { computed } from 'vue'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { shortName } from '../words/shown'
import { say } from '../words/say'

const props = defineProps<{ whole: S['WholeView'] }>()
const { mass, money, pricePer } = useShop()
const gap = computed(() => Number(props.whole.one_by_one) - Number(props.whole.price))
const sentence = computed(() => {
  const w = props.whole
  const how = gap.value >= 0 ? say`${money(gap.value)} less than` : say`${money(-gap.value)} more than`
  return (
    say`${w.name}, ${mass(w.weight_g, 2)} at ${pricePer(w.price_per_kg)}: ${money(w.price)}, ${how} its cuts one by ` +
    say`one (${money(w.one_by_one)}). About ${Math.round(w.minutes)} minutes.`
  )
})
</script>

<template>
  <section>
    <p data-test="whole-price">
      <strong>{{ sentence }}</strong>
    </p>
    <p v-if="whole.unpriced.length" class="small">
      Without a price, and counted as nothing one by one: {{ whole.unpriced.join(', ') }}.
    </p>
    <table v-wide>
      <thead>
        <tr>
          <th>Piece</th>
          <th class="n">Each</th>
          <th>How</th>
          <th>Gives</th>
          <th>Wish</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="c in whole.cuts" :key="c.piece + c.plan_id">
          <td>{{ c.count }} × {{ c.name }}</td>
          <td class="n">{{ mass(c.each_g, 2) }}</td>
          <td>{{ c.plan }}</td>
          <td>
            <span class="small">{{
              c.products.map((p) => `${mass(p.weight_g, 2)} ${shortName(p.name)}`).join(', ')
            }}</span>
          </td>
          <td>{{ [c.pieces ? say`${c.pieces} in a pack` : '', c.note].filter(Boolean).join(', ') }}</td>
        </tr>
      </tbody>
    </table>
  </section>
</template>
