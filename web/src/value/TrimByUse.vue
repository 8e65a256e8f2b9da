<script setup lang="ts">
// Where a shop values its trim by what it becomes, every answer that counts it so says it.
import { useShop } from '../shell/shop'

const { shop } = useShop()
</script>

<template>
  <p v-if="shop?.trim_by_use" class="small" data-test="trim-by-use">
    Trim is valued by what it becomes, not at its price; <RouterLink :to="{ name: 'blend' }">Mince and make</RouterLink>
    says how and changes it.
  </p>
</template>
