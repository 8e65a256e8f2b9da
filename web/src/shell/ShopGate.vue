<script setup lang="ts">
// Shows what stands inside once the shop is known: until then nobody knows in which currency and weight it speaks. A
// bench begins without, for it may be offline.
import StateNote from '../components/StateNote.vue'
import { useShop } from './shop'

defineProps<{ needed: boolean }>()
const { shop, shopError } = useShop()
</script>

<template>
  <slot v-if="!needed || shop || shopError" />
  <StateNote v-else class="page" loading what="the shop" />
</template>
