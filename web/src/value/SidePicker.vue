<script setup lang="ts">
// One way of a comparison: a plan, a recorded piece, or a group of recorded pieces.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { data, GET } from '../api/client'
import { shortName } from '../shell/shop'
import { usePlans } from '../plans/usePlans'
import type { Pick } from './picks'

const props = defineProps<{ pick: Pick; atlas: string; place: number; fault?: string }>()
const emit = defineEmits<{ change: [Pick]; drop: [] }>()
const { data: plans } = usePlans(() => props.atlas || undefined)
const { data: past } = useQuery({
  queryKey: computed(() => ['history-pieces', props.atlas]),
  enabled: () => !!props.atlas && props.pick.kind === 'piece',
  queryFn: () => data(GET('/history/pieces', { params: { query: { atlas_id: props.atlas } } })),
})
const { data: shop } = useQuery({ queryKey: ['shop'], queryFn: () => data(GET('/shop')), staleTime: 60_000 })
const { data: cutters } = useQuery({
  queryKey: computed(() => ['history', 'cutter', props.atlas]),
  enabled: () => !!props.atlas && props.pick.kind === 'group',
  queryFn: () => data(GET('/history', { params: { query: { by: 'cutter', atlas_id: props.atlas } } })),
})
const kinds = [
  { id: 'plan', name: 'A plan' },
  { id: 'piece', name: 'A piece that was cut' },
  { id: 'group', name: 'All pieces that were cut' },
] as const
const set = (more: Partial<Pick>) => emit('change', { ...props.pick, atlas_id: props.atlas, ...more } as Pick)
const turn = (kind: string) =>
  emit('change', {
    kind: kind as Pick['kind'],
    atlas_id: props.atlas,
    ...(kind === 'plan' && { plan_id: plans.value?.plans[0]?.plan.id ?? '' }),
  })
const value = (e: Event) => (e.target as HTMLSelectElement).value
</script>

<template>
  <div class="way" :class="{ bad: fault }">
    <span class="place">{{ String.fromCharCode(65 + place) }}</span>
    <select :value="pick.kind" :aria-label="`Way ${String.fromCharCode(65 + place)} is`" @change="turn(value($event))">
      <option v-for="k in kinds" :key="k.id" :value="k.id">{{ k.name }}</option>
    </select>
    <select
      v-if="pick.kind === 'plan'"
      :value="pick.plan_id"
      aria-label="Plan"
      @change="set({ plan_id: value($event) })"
    >
      <option v-for="p in plans?.plans" :key="p.plan.id" :value="p.plan.id">{{ p.plan.name }}</option>
    </select>
    <select
      v-else-if="pick.kind === 'piece'"
      :value="pick.breakdown_id ?? ''"
      aria-label="Piece"
      @change="set({ breakdown_id: value($event) })"
    >
      <option value="" disabled>choose a piece</option>
      <option v-for="p in past?.pieces" :key="p.breakdown_id" :value="p.breakdown_id">
        {{ p.lot_number }} · {{ p.plan }} · {{ p.cutter }}
      </option>
    </select>
    <template v-else>
      <select :value="pick.plan_id ?? ''" aria-label="Cut by plan" @change="set({ plan_id: value($event) })">
        <option value="">by any plan</option>
        <option v-for="p in plans?.plans" :key="p.plan.id" :value="p.plan.id">{{ p.plan.name }}</option>
      </select>
      <select :value="pick.supplier ?? ''" aria-label="From supplier" @change="set({ supplier: value($event) })">
        <option value="">from anybody</option>
        <option v-for="s in shop?.suppliers" :key="s" :value="s">{{ s }}</option>
      </select>
      <select :value="pick.cutter ?? ''" aria-label="Cut by" @change="set({ cutter: value($event) })">
        <option value="">by any cutter</option>
        <option v-for="c in cutters?.buckets.filter((b) => b.key)" :key="c.key" :value="c.key">
          {{ shortName(c.name) }}
        </option>
      </select>
    </template>
    <button v-if="place > 1" type="button" class="drop" aria-label="Take this way out" @click="emit('drop')">
      take out
    </button>
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
select {
  font: inherit;
  min-height: 44px;
  max-width: 300px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
}
.bad select {
  border-color: var(--act);
}
.drop {
  min-height: 44px;
  border: 0;
  background: none;
  color: var(--ink);
  text-decoration: underline;
  cursor: pointer;
  font: inherit;
}
</style>
