<script setup lang="ts">
// How one grade came to be: the chances, the steps from the atlas' figure, what was given, and the tastings.
import { computed } from 'vue'
import type { S } from '../api/client'
import { minus, plainDay } from '../words/shown'
import { gradeName, grades } from './grades'
import { say } from '../words/say'

const props = defineProps<{ cell: S['GradeCell'] }>()
const steps = computed(() => props.cell.steps ?? [])
const signed = (n: number) => (n < 0 ? minus(n.toFixed(1)) : `+${n.toFixed(1)}`)
</script>

<template>
  <p>
    <span class="grade" :class="`g-${cell.grade}`">{{ gradeName(cell.grade) }}</span>
    <strong>{{ cell.score.toFixed(0) }}</strong> ± {{ cell.sd.toFixed(0) }}, {{ cell.basis }}, {{ cell.assessors }}
    {{ cell.assessors === 1 ? say('eater') : say('eaters') }}
  </p>
  <div
    class="chances"
    role="img"
    :aria-label="grades.map((g) => say`${gradeName(g)} ${cell.chances[g]?.toFixed(0)} percent`).join(', ')"
  >
    <div v-for="g in grades" :key="g" class="chance">
      <span class="small">{{ gradeName(g) }}</span><span class="track"
        ><span class="fill" :class="`f-${g}`" :style="{ width: `${cell.chances[g] ?? 0}%` }" /></span
      ><span class="small n">{{ cell.chances[g]?.toFixed(0) }} %</span>
    </div>
  </div>
  <ul class="why small" data-test="why">
    <li v-for="(s, i) in steps" :key="s.why">
      {{ i ? `${s.why}: ${signed(s.points)}` : say`${s.why}: ${s.points.toFixed(0)}, estimated` }}
    </li>
    <li v-if="cell.given !== undefined">{{ cell.given_by }} gave {{ cell.given.toFixed(0) }}</li>
    <li v-for="p in cell.panels ?? []" :key="p.tasting_id">
      <RouterLink :to="{ name: 'tasting', params: { tasting: p.tasting_id } }">{{ p.name }}</RouterLink>,
      {{ plainDay(p.held_on) }}: {{ p.score.toFixed(0) }} by {{ p.assessors }}
      {{ p.assessors === 1 ? say('eater') : say('eaters') }}
    </li>
  </ul>
</template>

<style scoped>
.chance {
  display: grid;
  grid-template-columns: 64px 1fr 40px;
  gap: 8px;
  align-items: center;
}
.track {
  height: 12px;
  background: var(--ghost);
}
.fill {
  display: block;
  height: 100%;
}
.f-5 {
  background: var(--g-5);
}
.f-4 {
  background: var(--g-4);
}
.f-3 {
  background: var(--g-3);
}
.f-below_3 {
  background: var(--g-below);
  border: 1px solid var(--line);
}
.n {
  text-align: right;
}
.why {
  margin: 0;
  padding-left: 18px;
}
</style>
