<script setup lang="ts">
// How far something is on its way; without a share, that it is.
import { defineAsyncComponent } from 'vue'

defineProps<{ label: string; part?: number }>()
const ProgressBar = defineAsyncComponent(() => import('primevue/progressbar'))
</script>

<template>
  <ProgressBar
    class="fetch-bar"
    :mode="part === undefined ? 'indeterminate' : 'determinate'"
    :value="part"
    :show-value="false"
    :aria-label="label"
  />
</template>

<style scoped>
.fetch-bar {
  min-width: 120px;
  height: 5px;
}
</style>
