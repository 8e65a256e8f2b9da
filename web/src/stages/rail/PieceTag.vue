<script setup lang="ts">
// One piece on its hook.
import { computed } from 'vue'
import { useShop } from '../../shell/shop'
import { clockOf } from '../../words/shown'
import MiniMap from './MiniMap.vue'
import { workplace, type Card } from './useRail'

const props = defineProps<{ card: Card }>()
const { mass, money, perUnit, unitWord } = useShop()
const gain = computed(() =>
  props.card.difference_per_kg === undefined
    ? ''
    : `${money(perUnit(props.card.difference_per_kg), true)} a ${unitWord.value}`,
)
</script>

<template>
  <RouterLink class="tag" :to="workplace(card)">
    <span class="hook" aria-hidden="true" />
    <span class="spread"
      ><strong>{{ mass(card.weight_g, 2) }}</strong
      ><span class="small">day {{ card.age_days }}</span></span
    >
    <span class="body"
      ><span
        ><span class="name">{{ card.name }}</span>
        <span class="small"
          >{{ card.lot_number }}<template v-if="card.of > 1"> · {{ card.number }} of {{ card.of }}</template> ·
          {{ card.supplier }}</span
        ></span
      ><MiniMap :atlas="card.atlas_id" :off="card.off"
    /></span>
    <span v-if="gain" class="waits">{{ gain }}, “{{ card.plan_short }}”</span>
    <span v-else-if="card.planned_at" class="waits">{{ clockOf(card.planned_at) }} on {{ card.planned_bench }}</span>
    <span v-else class="waits">waits for {{ card.waits_for }}</span>
  </RouterLink>
</template>

<style scoped src="./tag.css"></style>
