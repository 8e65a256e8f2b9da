<script setup lang="ts">
// One stage: how many pieces hang at it, what they weigh together; what only waits for its age, and what is long done,
// is folded away.
import { computed } from 'vue'
import { useShop } from '../../shell/shop'
import { counted, say } from '../../words/say'
import GroupTag from './GroupTag.vue'
import PieceTag from './PieceTag.vue'
import { grouped, type Card } from './useRail'

const props = defineProps<{
  name: string
  stage: Card['stage']
  cards: Card[]
  empty: string
  /** Nothing is folded, because something was looked for. */
  open: boolean
}>()
const { mass } = useShop()
const weight = computed(() => props.cards.reduce((n, c) => n + c.weight_g, 0))
const groups = computed(() => grouped(props.cards))
const doneShown = 4
const ages = (g: Card[]) => g[0]!.stage === 'plan' && g[0]!.waits_for.startsWith('its age')
const now = computed(() => {
  if (props.open) return groups.value
  return props.stage === 'compare' ? groups.value.slice(0, doneShown) : groups.value.filter((g) => !ages(g))
})
const later = computed(() => groups.value.filter((g) => !now.value.includes(g)))
const laterWords = computed(() => {
  const n = later.value.reduce((sum, g) => sum + g.length, 0)
  return props.stage === 'compare'
    ? say`${n} more done`
    : `${counted(n, 'piece waits for its age', 'pieces wait for their age')}`
})
</script>

<template>
  <section class="column" :aria-label="name">
    <h2 class="head">
      <span>{{ name }}</span><span class="count"
        ><span v-if="cards.length" class="small">{{ mass(weight, 1) }}</span> {{ cards.length }}</span
      >
    </h2>
    <template v-for="g in now" :key="g[0]!.id">
      <GroupTag v-if="g.length > 1" :cards="g" />
      <PieceTag v-else :card="g[0]!" />
    </template>
    <details v-if="later.length">
      <summary>{{ laterWords }}</summary>
      <template v-for="g in later" :key="g[0]!.id">
        <GroupTag v-if="g.length > 1" :cards="g" />
        <PieceTag v-else :card="g[0]!" />
      </template>
    </details>
    <p v-if="!cards.length" class="empty small">{{ empty }}</p>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  border-top: 4px solid var(--ink);
  padding: 8px 2px 12px;
  font-stretch: 84%;
}
.count {
  color: var(--ink-2);
}
.empty {
  padding: 12px 2px;
}
summary {
  min-height: 44px;
  padding: 14px 2px 0;
  cursor: pointer;
  color: var(--ink-2);
  font-weight: 600;
}
</style>
