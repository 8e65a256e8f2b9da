<script setup lang="ts">
// Several pieces of one lot on one hook, each a touch away.
import { computed } from 'vue'
import { useShop } from '../../shell/shop'
import { clockOf } from '../../words/shown'
import MiniMap from './MiniMap.vue'
import { workplace, type Card } from './useRail'
import { say } from '../../words/say'

const props = defineProps<{ cards: Card[] }>()
const { bare, mass, money, perUnit, unitWord } = useShop()
const first = computed(() => props.cards[0]!)
const together = computed(() => first.value.stage === 'bench' && first.value.batch_id)
/** How many of what weight: the least and the most, where they differ. */
const many = computed(() => {
  const weights = props.cards.map((c) => c.weight_g)
  const [least, most] = [Math.min(...weights), Math.max(...weights)]
  if (mass(least, 2) === mass(most, 2)) return say`${weights.length} × ${mass(least, 2)}`
  return say`${weights.length} × ${bare(least, 2)}–${mass(most, 2)}`
})
/** Finished pieces: what they gained on average. */
const gain = computed(() => {
  const known = props.cards.filter((c) => c.difference_per_kg !== undefined)
  if (first.value.stage !== 'compare' || !known.length) return ''
  const mean = known.reduce((s, c) => s + Number(c.difference_per_kg), 0) / known.length
  return say`${money(perUnit(mean), true)} a ${unitWord.value} on average, “${first.value.plan_short ?? ''}”`
})
const waits = computed(() => {
  const starts = props.cards.flatMap((c) => c.planned_at ?? []).sort()
  if (gain.value) return gain.value
  if (together.value) return say('cut together')
  if (starts[0]) return say`from ${clockOf(starts[0])} on ${first.value.planned_bench}`
  return say`wait for ${first.value.waits_for.replace(/^its /, 'their ')}`
})
</script>

<template>
  <div class="tag group" role="group" :aria-label="say`${cards.length} pieces of ${first.name}`">
    <span class="hook" aria-hidden="true" /><span class="hook second" aria-hidden="true" />
    <RouterLink class="head" :to="workplace(first)">
      <span class="spread"
        ><strong>{{ many }}</strong
        ><span class="small">day {{ first.age_days }}</span></span
      >
      <span class="body"
        ><span
          ><span class="name">{{ first.name }}</span>
          <span class="small">{{ first.lot_number }} · {{ first.supplier }}</span></span
        ><MiniMap :atlas="first.atlas_id"
      /></span>
      <span class="waits">{{ waits }}</span>
    </RouterLink>
    <span v-if="!together" class="pieces"
      ><RouterLink v-for="c in cards" :key="c.id" :to="workplace(c)" :aria-label="say`Piece ${c.number} of ${c.of}`">{{
        say`no. ${c.number}`
      }}</RouterLink></span
    >
  </div>
</template>

<style scoped src="./tag.css"></style>
<style scoped>
.group {
  padding: 0;
  gap: 0;
}
.head {
  display: flex;
  flex-direction: column;
  gap: 3px;
  padding: 12px 12px 8px;
  color: var(--ink);
  text-decoration: none;
}
.second {
  left: 22px;
}
.pieces {
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
  padding: 0 8px 6px;
}
.pieces a {
  min-width: 44px;
  min-height: 44px;
  padding: 0 8px;
  border: 1px solid var(--hairline);
  text-decoration: none;
  font-weight: 600;
  display: inline-flex;
  align-items: center;
  justify-content: center;
}
</style>
