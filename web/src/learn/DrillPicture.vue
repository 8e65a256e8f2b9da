<script setup lang="ts">
// The picture of a question: the map without names, the block in space, a sawn face, or a mark that is moved along the
// piece.
import { computed, defineAsyncComponent, ref } from 'vue'
import SeamMap, { type MapMark } from '../components/SeamMap.vue'
import UnitToggle from '../components/UnitToggle.vue'
import type { S } from '../api/client'
import { useAtlasPiece } from '../api/useAtlasPiece'
import { say } from '../words/say'

const DrillBlock = defineAsyncComponent(() => import('./DrillBlock.vue'))
const DrillFace = defineAsyncComponent(() => import('./DrillFace.vue'))
const props = defineProps<{ question: S['DrillQuestion']; verdict?: S['DrillVerdict']; busy: boolean }>()
const emit = defineEmits<{ touch: [string]; enter: [number] }>()
const q = computed(() => props.question)
const along = computed(() => q.value.at_mm !== undefined || q.value.number?.unit === 'mm')
const flat = computed(() => !along.value && (!!q.value.lit || q.value.touch))
const { data: piece } = useAtlasPiece(() => (flat.value ? q.value.piece : undefined))
const view = ref(say('The map'))
const views = [view.value, say('In space')]

const thingOf = (part: string) => q.value.things?.find((t) => t.parts.includes(part))
const gone = computed(
  () => new Set((props.verdict?.off ?? []).flatMap((id) => q.value.things?.find((t) => t.id === id)?.parts ?? [])),
)
const done = computed(() => props.verdict?.done ?? false)
/** What lights up: what is asked for, or once answered what would have been right. */
const lit = computed(() => {
  if (q.value.lit) return [q.value.lit]
  return done.value && !q.value.things ? (props.verdict?.truth ?? []) : []
})
/** Numbers stand for names until it is answered. */
const marks = computed<Record<string, MapMark>>(() =>
  Object.fromEntries(
    (piece.value?.muscles ?? []).map((m, i) => {
      const named = done.value || !!q.value.things
      return [
        m.id,
        {
          name: named ? m.market_name : `${i + 1}`,
          code: named ? m.code : `${i + 1}`,
          state: gone.value.has(m.id) ? 'off' : lit.value.includes(m.id) ? 'next' : 'plain',
        } satisfies MapMark,
      ]
    }),
  ),
)
function touch(part: string) {
  if (!q.value.touch || done.value || props.busy) return
  if (!q.value.things) return emit('touch', part)
  const t = thingOf(part)
  emit('touch', t ? t.id : 'rest')
}
</script>

<template>
  <div v-if="along" class="picture">
    <DrillFace :question="q" :verdict="verdict" :busy="busy" @enter="(n) => emit('enter', n)" />
  </div>
  <div v-else-if="flat && piece" class="picture">
    <UnitToggle v-if="q.touch" v-model="view" class="views" :options="views" label="How it is drawn" />
    <DrillBlock
      v-if="view === views[1]"
      :piece="q.piece"
      :gone="gone"
      :lit="lit[0] ?? ''"
      @touch="touch"
      @flat="view = say('The map')"
    />
    <SeamMap
      v-else
      :map="piece.seam_map"
      :marks="marks"
      :pickable="q.touch && !done"
      :picked="lit[0]"
      :title="say`${q.piece_name}, without names`"
      :size="3.4"
      data-test="drill-map"
      @pick="touch"
    />
  </div>
</template>

<style scoped>
.views {
  align-self: start;
}
.picture {
  display: flex;
  flex-direction: column;
  gap: 10px;
  max-width: 640px;
}
</style>
