<script setup lang="ts">
// A tub that can be taken into a blend.
import type { S } from '../api/client'
import { tubName } from '../goods/tubWords'
import { useShop } from '../shell/shop'
import { percent, plainDay } from '../words/shown'

defineProps<{ tub: S['Tub'] }>()
const taken = defineModel<string[]>({ required: true })
const { mass } = useShop()
</script>

<template>
  <label class="tick"
    ><input v-model="taken" type="checkbox" :value="tub.id" /><span
      ><strong>{{ tubName(tub) }}</strong
      >: {{ mass(tub.left_g, 2) }}, {{ percent(tub.lean_pct ?? 0, 0) }} lean<span v-if="tub.late" class="fault"
        >, until {{ plainDay(tub.mince_until!) }}</span
      ></span
    ></label
  >
</template>

<style scoped>
.tick {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
}
</style>
