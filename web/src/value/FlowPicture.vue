<script setup lang="ts">
// Where a carcass goes: carcass, pieces, products, each band as wide as its weight or its value; a piece that is
// chosen shows its muscles.
import { computed, ref } from 'vue'
import ChartFrame from '../charts/ChartFrame.vue'
import UnitToggle from '../components/UnitToggle.vue'
import type { S } from '../api/client'
import { shortName } from '../words/shown'
import { flowChart, pieceOf, shownFlows, type Measure } from './flowChart'
import { say } from '../words/say'

const props = defineProps<{
  flows: S['CarcassFlow'][]
  names: Record<string, string>
  show: (weight: number, value: number) => string
  /** Pieces go straight to products: there is nothing to open. */
  straight?: boolean
  file?: string
}>()
const by = ref<Measure>('weight_g')
const open = ref('')
const name = (id: string) => (id === 'product/rest' ? say('Smaller products') : shortName(props.names[id] ?? id))
const pieces = computed(() => props.flows.filter((f) => f.from === 'carcass'))
const option = computed(() =>
  flowChart(shownFlows(props.flows, by.value, open.value), by.value, open.value, { name, show: props.show }),
)
const points = computed(() => pieces.value.map((f) => `${name(f.to)}: ${props.show(f.weight_g, f.value)}`))
function turn(id: string) {
  if (props.straight) return
  if (id.startsWith('piece/')) open.value = open.value === pieceOf(id) ? '' : pieceOf(id)
}
</script>

<template>
  <section class="flow" aria-label="Where it goes">
    <p class="row no-print">
      <span class="label">Show by</span>
      <UnitToggle
        v-model="by"
        :options="['weight_g', 'value']"
        :names="{ weight_g: 'weight', value: 'value' }"
        label="Show by"
      />
    </p>
    <ChartFrame
      :option="option"
      :points="points"
      :height="560"
      :least="820"
      label="From the carcass over its pieces to the products; the tables below have the figures"
      :file="file ?? 'whole-carcass'"
      :pickable="!straight"
      @node="turn"
      @pick="turn(pieces[$event]?.to ?? '')"
      ><template v-if="!straight">Select a piece to see its muscles.</template></ChartFrame
    >
  </section>
</template>

<style scoped>
.flow {
  margin: 18px 0;
}
.row {
  margin-bottom: 8px;
}
</style>
