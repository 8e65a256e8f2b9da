<script setup lang="ts">
// The piece as it stands before a step: what is still on, what leaves with it; below it what is no muscle, and what no
// step moves yet.
import { computed } from 'vue'
import SeamMap, { type MapMark } from '../../components/SeamMap.vue'
import type { S } from '../../api/client'
import { useShop } from '../../shell/shop'
import { percent } from '../../words/shown'
import PartChips from '../PartChips.vue'
import { say } from '../../words/say'

const props = defineProps<{
  piece: S['AtlasPiece']
  parts: S['PlanPart'][]
  step: S['DraftStep'] | undefined
  left: S['DraftSteps']['left']
  touched: string[] // what the step names
  pickable: boolean
}>()
const emit = defineEmits<{ pick: [string] }>()
const { mass } = useShop()

const there = (id: string) => props.step?.on[id] ?? 0
const gone = (id: string) => props.step?.gone[id] ?? 0
/** How much of a part leaves, or is there; nothing is said of what is there whole. */
function wordsOf(id: string) {
  if (gone(id)) return gone(id) === there(id) ? say('all off') : say`${percent(gone(id), 0)} off`
  if (!there(id)) return 'off'
  return there(id) === 100 ? '' : say`${percent(there(id), 0)} left`
}
const marks = computed<Record<string, MapMark>>(() =>
  Object.fromEntries(
    props.piece.muscles.map((m) => {
      const line = there(m.id) ? wordsOf(m.id) : ''
      const state = props.touched.includes(m.id) || gone(m.id) ? 'next' : there(m.id) ? 'plain' : 'off'
      return [m.id, { name: m.market_name, code: m.code, ...(line && { line }), state }]
    }),
  ),
)
const others = computed(() => props.parts.filter((p) => p.kind !== 'muscle' && p.kind !== 'loss'))
</script>

<template>
  <div class="left">
    <SeamMap
      :map="piece.seam_map"
      :marks="marks"
      :pickable="pickable"
      :title="pickable ? say('Touch what the step takes') : say('What the step works on')"
      :size="3.4"
      @pick="emit('pick', $event)"
    />
    <PartChips
      :parts="others"
      :on="(id) => touched.includes(id)"
      :off="(id) => !there(id)"
      :says="(p) => wordsOf(p.id)"
      :disabled="!pickable"
      @pick="emit('pick', $event)"
    />
    <p v-if="left.length" class="fault" data-test="left">
      No step moves yet: {{ left.map((l) => say`${mass(l.g, 2)} of the ${l.name}`).join(', ') }}.
    </p>
    <p v-else class="small" data-test="left">Everything goes somewhere.</p>
  </div>
</template>

<style scoped>
.left {
  display: flex;
  flex-direction: column;
  gap: 10px;
  position: sticky;
  top: 72px;
}
@media (max-width: 900px) {
  .left {
    position: static;
  }
}
</style>
