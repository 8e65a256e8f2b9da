<script setup lang="ts">
// Slices laid in a row like sliced bread; the one that is touched is picked.
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { counted } from '../words/say'
import SectionPicture from './SectionPicture.vue'
import { stretch, useBox } from './useBox'

const props = defineProps<{
  slices: S['BodySlice'][]
  parts: Map<string, S['BodyPart']>
  half: boolean
  picked?: string
  /** What is said below each slice besides its place and weight. */
  says?: (at: number) => string
}>()
const at = defineModel<number>({ required: true })
const { mass } = useShop()
const box = useBox(
  () => props.slices,
  () => props.half,
)
const spoken = (s: S['BodySlice'], i: number) =>
  [stretch(s), mass(s.g, 2), counted(s.muscles, 'muscle'), props.says?.(i)].filter(Boolean).join(', ')
</script>

<template>
  <div class="row-of">
    <button
      v-for="(s, i) in slices"
      :key="s.from_mm"
      type="button"
      class="slice"
      :class="{ on: i === at }"
      :aria-pressed="i === at"
      :aria-label="spoken(s, i)"
      @click="at = i"
    >
      <SectionPicture :slice="s" :parts="parts" :half="half" :box="box" :picked="picked" />
      <span class="small">{{ stretch(s) }}</span>
      <span class="small">{{ mass(s.g, 2) }}</span>
      <span v-if="says" class="says">{{ says(i) }}</span>
    </button>
  </div>
</template>

<style scoped>
.row-of {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(168px, 1fr));
  gap: 6px;
  margin: 12px 0 18px;
}
.slice {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 2px;
  padding: 6px;
  border: 1px solid transparent;
  border-radius: 2px;
  background: none;
  color: var(--ink);
  cursor: pointer;
}
.slice.on {
  border-color: var(--ink);
  background: var(--surface);
}
.says {
  font-size: 13px;
  font-weight: 650;
  min-height: 18px;
}
@media print {
  .row-of {
    grid-template-columns: repeat(6, 1fr);
  }
}
</style>
