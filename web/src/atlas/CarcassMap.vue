<script setup lang="ts">
// A carcass seen from its side, its pieces as regions with areas true to weight. It shows the division that holds what
// is marked; touch a region to go to its piece.
import { computed } from 'vue'
import SeamMap, { type MapMark } from '../components/SeamMap.vue'
import { initials } from '../components/mapLabels'
import type { S } from '../api/client'
import { say } from '../words/say'

const props = defineProps<{
  carcass: S['Carcass']
  division?: string
  marked?: string // a piece that is shown as meant
  lines?: Record<string, string> // a second line for each of these pieces
  size?: number
  pickable?: boolean
}>()
const emit = defineEmits<{ pick: [string]; point: [string | undefined] }>()

/** The division asked for, or the first that has all that is to be shown. */
const shown = computed(() => {
  const all = props.carcass.divisions
  const asked = all.find((d) => d.id === props.division) ?? all[0]!
  const needed = props.marked ? [props.marked] : Object.keys(props.lines ?? {})
  const has = (d: S['CarcassDivision']) => needed.every((id) => d.map.areas.some((a) => a.part === id))
  return has(asked) ? asked : (all.find(has) ?? asked)
})
const marks = computed<Record<string, MapMark>>(() =>
  Object.fromEntries(
    shown.value.map.areas.map((a) => [
      a.part,
      {
        name: a.name,
        code: initials(a.name),
        ...(props.lines?.[a.part] && { line: props.lines[a.part]! }),
      },
    ]),
  ),
)
</script>

<template>
  <SeamMap
    class="carcassmap"
    :map="shown.map"
    :marks="marks"
    :pickable="pickable"
    :picked="marked"
    :title="say`${carcass.name}, seen from the side. ${shown.name}`"
    :size="size ?? 2.2"
    keyed
    @pick="(id) => emit('pick', id)"
    @point="(id) => emit('point', id)"
  />
</template>

<style scoped>
.carcassmap :deep(.seam) {
  stroke-width: 0.35;
}
.carcassmap :deep(.outline) {
  stroke-width: 0.45;
}
</style>
