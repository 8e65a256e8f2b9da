<script setup lang="ts">
// What lies in one slice: its section large, and its parts by weight.
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { percent } from '../words/shown'
import SectionPicture from './SectionPicture.vue'
import { stretch, useBox } from './useBox'

const props = defineProps<{
  slice: S['BodySlice']
  parts: Map<string, S['BodyPart']>
  half: boolean
  /** All slices of the piece: they are drawn at one scale. */
  among: S['BodySlice'][]
  picked?: string
}>()
const { mass } = useShop()
const box = useBox(
  () => props.among,
  () => props.half,
)
</script>

<template>
  <div>
    <SectionPicture class="large" :slice="slice" :parts="parts" :half="half" :box="box" :picked="picked" />
    <h3>{{ stretch(slice) }}: {{ mass(slice.g, 3) }}</h3>
    <table v-wide>
      <tbody>
        <tr v-for="p in [...slice.parts].sort((x, y) => y.g - x.g)" :key="p.part">
          <td>{{ parts.get(p.part)?.name ?? p.part }}</td>
          <td class="n">{{ mass(p.g, 3) }}</td>
          <td class="n">{{ percent(p.pct) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.large {
  max-width: 460px;
}
h3 {
  font-size: 16px;
  margin: 8px 0;
}
</style>
