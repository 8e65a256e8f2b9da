<script setup lang="ts">
// What a block becomes: products, tubs, and how much of it goes where.
import { computed } from 'vue'
import PvButton from 'primevue/button'
import PickOne from '../../components/PickOne.vue'
import type { S } from '../../api/client'
import type { Step } from './stepDraft'
import StepNumber from './StepNumber.vue'
import StepRange from './StepRange.vue'
import { say } from '../../words/say'

const props = defineProps<{ products: { id: string; name: string; form: string }[]; tubs: S['Named'][] }>()
const step = defineModel<Step>({ required: true })
type Give = S['StepGive']

const places = computed(() => [
  ...props.products.map((p) => ({
    id: `${p.form === 'piece' ? 'piece' : 'product'}:${p.id}`,
    name: p.form === 'piece' ? say`${p.name} (goes on as a piece)` : p.name,
  })),
  ...props.tubs.map((t) => ({ id: `tub:${t.id}`, name: say`${t.name} (tub)` })),
])
const placeOf = (g: Give) =>
  g.product ? `product:${g.product}` : g.tub ? `tub:${g.tub}` : g.piece ? `piece:${g.piece}` : ''
function put(g: Give, place: string) {
  const [kind, id] = [place.slice(0, place.indexOf(':')), place.slice(place.indexOf(':') + 1)]
  delete g.product
  delete g.tub
  delete g.piece
  if (kind === 'product') g.product = id
  else if (kind === 'tub') g.tub = id as NonNullable<Give['tub']>
  else g.piece = id
}
const rows = computed(() => step.value.gives ?? [])
const add = () => (step.value.gives = [...rows.value, {}])
const drop = (i: number) => (step.value.gives = rows.value.filter((_, k) => k !== i))
</script>

<template>
  <div class="gives">
    <p class="label">Becomes</p>
    <div v-for="(g, i) in rows" :key="i" class="give">
      <PickOne
        :model-value="placeOf(g)"
        :options="places"
        :label="say`What it becomes, ${i + 1}`"
        :invalid="!placeOf(g)"
        @update:model-value="put(g, $event)"
      />
      <label class="cell"
        ><StepNumber v-model="g.pct" :label="say`Percent of the block, ${i + 1}`" /><span class="small"
          >% of the block</span
        ></label
      >
      <span class="cell"
        ><StepRange v-model="g.count" :label="say`How many, ${i + 1}`" /><span class="small">of them</span></span
      >
      <PvButton text label="Remove" :aria-label="say`Remove what it becomes, ${i + 1}`" @click="drop(i)" />
    </div>
    <PvButton
      severity="secondary"
      :label="rows.length ? say('And something else') : say('Say what it becomes')"
      @click="add"
    />
  </div>
</template>

<style scoped>
.give {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
  padding: 4px 0;
}
.give > :first-child {
  flex: 1 1 220px;
}
.cell {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
</style>
