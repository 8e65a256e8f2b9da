<script setup lang="ts">
// Where on the animal a lot comes from; of a carcass that was broken, what each piece of it weighed.
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import CarcassMap from '../../atlas/CarcassMap.vue'
import { useCarcasses } from '../../atlas/useCarcasses'
import type { S } from '../../api/client'
import { useShop } from '../../shell/shop'
import { say } from '../../words/say'

const props = defineProps<{ lot: S['LotDetail'] }>()
const router = useRouter()
const { mass } = useShop()
const { data: carcasses } = useCarcasses()

const atlasId = computed(() => props.lot.lot.atlas_id)
const whole = computed(() => carcasses.value?.find((c) => c.id === atlasId.value))
const holds = (c: S['Carcass']) => c.divisions.some((d) => d.map.areas.some((a) => a.part === atlasId.value))
const carcass = computed(() => whole.value ?? carcasses.value?.find(holds))
const gave = computed(() => {
  const grams: Record<string, number> = {}
  for (const l of props.lot.broken) grams[l.atlas_id] = (grams[l.atlas_id] ?? 0) + l.total_g
  return Object.fromEntries(Object.entries(grams).map(([id, g]) => [id, mass(g, 1)]))
})
const open = (piece: string) => {
  const lot = props.lot.broken.find((l) => l.atlas_id === piece)
  void router.push(lot ? { name: 'lot', params: { lot: lot.id } } : { name: 'atlas-piece', params: { piece } })
}
</script>

<template>
  <figure v-if="carcass && (!whole || lot.broken.length)">
    <h2>{{ whole ? say('What it gave') : say('Where it comes from') }}</h2>
    <CarcassMap
      :carcass="carcass"
      :lines="gave"
      pickable
      :size="2.6"
      v-bind="whole ? {} : { marked: atlasId }"
      @pick="open"
    />
    <figcaption class="small">Areas are true to what pieces of the {{ carcass.house_name }} usually weigh.</figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0 0 20px;
  max-width: 560px;
}
figcaption {
  margin-top: 6px;
}
</style>
