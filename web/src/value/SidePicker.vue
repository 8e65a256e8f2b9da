<script setup lang="ts">
// One way of a comparison: a plan, a recorded piece, or a group of recorded pieces.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'
import { useShop } from '../shell/shop'
import { shortName } from '../words/shown'
import { usePlans } from '../plans/usePlans'
import PickOne from '../components/PickOne.vue'
import PvButton from 'primevue/button'
import type { Pick } from './picks'
import { say } from '../words/say'

const props = defineProps<{ pick: Pick; atlas: string; place: number; fault?: string }>()
const emit = defineEmits<{ change: [Pick]; drop: [] }>()
const { data: plans } = usePlans(() => props.atlas || undefined)
const { data: past } = useQuery({
  queryKey: computed(() => keyOf('history-pieces', props.atlas)),
  enabled: () => !!props.atlas && props.pick.kind === 'piece',
  queryFn: () => data(GET('/history/pieces', { params: { query: { atlas_id: props.atlas } } })),
})
const { shop } = useShop()
const { data: cutters } = useQuery({
  queryKey: computed(() => keyOf('history', 'cutter', props.atlas)),
  enabled: () => !!props.atlas && props.pick.kind === 'group',
  queryFn: () => data(GET('/history', { params: { query: { by: 'cutter', atlas_id: props.atlas } } })),
})
const kinds = [
  { id: 'plan', name: say('A plan') },
  { id: 'piece', name: say('A piece that was cut') },
  { id: 'group', name: say('All pieces that were cut') },
] as const
const set = (more: Partial<Pick>) => emit('change', { ...props.pick, atlas_id: props.atlas, ...more } as Pick)
const turn = (kind: string) =>
  emit('change', {
    kind: kind as Pick['kind'],
    atlas_id: props.atlas,
    ...(kind === 'plan' && { plan_id: plans.value?.plans[0]?.plan.id ?? '' }),
  })

const cutPiece = (p: { lot_number: string; plan: string; cutter: string }) =>
  `${p.lot_number} · ${p.plan} · ${p.cutter}`
const cutterName = (c: { name: string }) => shortName(c.name)
</script>

<template>
  <div class="way" :class="{ bad: fault }">
    <span class="place">{{ String.fromCharCode(65 + place) }}</span>
    <PickOne
      :model-value="pick.kind"
      :label="say`Way ${String.fromCharCode(65 + place)} is`"
      :options="kinds"
      @update:model-value="turn"
    />
    <PickOne
      v-if="pick.kind === 'plan'"
      :model-value="pick.plan_id"
      label="Plan"
      :options="plans?.plans"
      by="plan.id"
      called="plan.name"
      @update:model-value="set({ plan_id: $event })"
    />
    <PickOne
      v-else-if="pick.kind === 'piece'"
      :model-value="pick.breakdown_id ?? ''"
      label="Piece"
      :options="past?.pieces"
      by="breakdown_id"
      :called="cutPiece"
      none="choose a piece"
      @update:model-value="set({ breakdown_id: $event })"
    />
    <template v-else>
      <PickOne
        :model-value="pick.plan_id ?? ''"
        label="Cut by plan"
        :options="plans?.plans"
        by="plan.id"
        called="plan.name"
        none="by any plan"
        @update:model-value="set({ plan_id: $event })"
      />
      <PickOne
        :model-value="pick.supplier ?? ''"
        label="From supplier"
        :options="shop?.suppliers"
        none="from anybody"
        @update:model-value="set({ supplier: $event })"
      />
      <PickOne
        :model-value="pick.cutter ?? ''"
        label="Cut by"
        :options="cutters?.buckets.filter((b) => b.key)"
        by="key"
        :called="cutterName"
        none="by any cutter"
        @update:model-value="set({ cutter: $event })"
      />
    </template>
    <PvButton v-if="place > 1" text label="Remove" @click="emit('drop')" />
    <span v-if="fault" class="fault" role="alert">{{ fault }}</span>
  </div>
</template>

<style scoped>
.way {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
}
.place {
  font-weight: 800;
  font-size: 18px;
  width: 22px;
}
</style>
