<script setup lang="ts">
// Where to cut the block that the next product is sliced from: it is portioned as it lies, all its parts at once.
import { ref } from 'vue'
import PvButton from 'primevue/button'
import PortionBox from '../body/PortionBox.vue'
import type { S } from '../api/client'
import { say } from '../words/say'

defineProps<{ piece: string; from: S['CutFrom']; called: string }>()
const open = ref(false)
</script>

<template>
  <div class="here">
    <PvButton
      text
      :label="open ? say('Hide where to cut') : say('Where to cut')"
      :aria-expanded="open"
      data-test="cut-here"
      @click="open = !open"
    />
    <PortionBox
      v-if="open"
      :piece="piece"
      part="block"
      :weight-g="from.weight_g"
      :holds="from.holds"
      :name="called"
      @keydown.stop
    />
  </div>
</template>
