<script setup lang="ts">
// The seam map of a piece as a small picture: what is off is hatched.
import { computed } from 'vue'
import { useMaps } from './useMaps'

const props = defineProps<{ atlas: string; off?: string[] }>()
const { data: maps } = useMaps()
const map = computed(() => maps.value?.get(props.atlas))
const path = (points: { x: number; y: number }[]) => `M${points.map((p) => `${p.x} ${p.y}`).join('L')}Z`
const gone = computed(() => map.value?.areas.filter((a) => props.off?.includes(a.part)) ?? [])
</script>

<template>
  <svg v-if="map" class="mini" :viewBox="`-1 -1 ${map.width + 2} ${map.height + 2}`" aria-hidden="true">
    <path class="flesh" :d="path(map.outline)" />
    <path v-for="a in gone" :key="a.part" class="off" :d="path(a.polygon)" />
    <path v-for="s in map.seams" :key="s.a + s.b" class="seam" :d="`M${s.from.x} ${s.from.y}L${s.to.x} ${s.to.y}`" />
    <path class="outline" :d="path(map.outline)" />
  </svg>
</template>

<style scoped>
.mini {
  width: 84px;
  height: 56px;
  flex: none;
}
path {
  fill: none;
  vector-effect: non-scaling-stroke;
}
.flesh {
  fill: var(--ground);
}
.off {
  fill: var(--line);
  fill-opacity: 0.45;
}
.seam {
  stroke: var(--seam);
  stroke-width: 1;
}
.outline {
  stroke: var(--ink);
  stroke-width: 1.5;
}
</style>
