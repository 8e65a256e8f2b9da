<script setup lang="ts">
// The rail's shape while it is read, so that nothing jumps and nothing is said that is not so.
import Skeleton from 'primevue/skeleton'
</script>

<template>
  <div class="columns" aria-hidden="true">
    <div v-for="c in 4" :key="c" class="column">
      <Skeleton v-for="r in 3" :key="r" height="108px" border-radius="2px" />
    </div>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 20px;
}
.column {
  display: grid;
  gap: 14px;
  border-top: 4px solid var(--hairline);
  padding-top: 44px;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
