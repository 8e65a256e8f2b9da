<script setup lang="ts">
// One piece of the day's plan: what it becomes, why, and another plan in its place.
import { computed } from 'vue'
import PickOne from '../components/PickOne.vue'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import PvButton from 'primevue/button'
import { notToday } from './useBestUse'

const props = defineProps<{ row: S['BestUsePiece']; may: boolean }>()
const emit = defineEmits<{ settle: [string]; release: [] }>()
const { mass } = useShop()
const picked = computed(() => props.row.plan_id || notToday)
</script>

<template>
  <tr :class="{ pinned: row.pinned }" :data-piece="row.piece.lot_number">
    <td>
      <RouterLink :to="{ name: 'plan', params: { piece: row.piece.id } }"
        >{{ row.piece.lot_number }} / {{ row.piece.number }}</RouterLink
      ><br /><span class="small">{{ row.piece.name }}, {{ mass(row.piece.weight_g, 2) }}</span>
    </td>
    <td class="plan">
      <PickOne
        :model-value="picked"
        :label="say`Plan of ${row.piece.lot_number} / ${row.piece.number}`"
        :options="row.plans"
        none="not today"
        @update:model-value="emit('settle', $event)"
      /><PvButton v-if="row.pinned" text label="Best again" @click="emit('release')" />
    </td>
    <td class="small why">
      {{ row.pinned ? say('Settled by you.') : row.sentence }}
      <template v-if="row.young.length">Too young for {{ counted(row.young.length, 'other plan') }}.</template>
    </td>
  </tr>
</template>

<style scoped>
td {
  vertical-align: top;
}
.pinned td {
  background: var(--act-wash);
}
</style>
