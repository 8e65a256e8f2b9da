<script setup lang="ts">
// An example shop to look at, beside the real one.
import PvButton from 'primevue/button'
import FetchBar from '../components/FetchBar.vue'
import { useExample } from './useExample'

const { example, inside, busy, problem, go, make, remove } = useExample()
</script>

<template>
  <div v-if="example && !inside" class="offer" data-test="example-offer">
    <template v-if="example.state === 'none'">
      <PvButton severity="secondary" label="Look at an example shop" :loading="busy" @click="make" />
      <span class="small"
        >A cutting hall with two months of work, beside your own shop; nothing of it counts in yours, and one touch
        removes it.</span
      >
    </template>
    <template v-else-if="example.state === 'making'">
      <span role="status">The example shop is being filled; that takes some seconds.</span>
      <FetchBar label="The example shop is being filled" />
    </template>
    <template v-else-if="example.state === 'broken'">
      <span class="fault">The example shop did not become whole.</span>
      <PvButton severity="secondary" label="Remove it" :loading="busy" @click="remove" />
    </template>
    <template v-else>
      <PvButton severity="secondary" label="Go to the example shop" :loading="busy" @click="go(example.shop_id!)" />
      <PvButton text label="Remove it" :disabled="busy" @click="remove" />
    </template>
    <span v-if="problem" class="fault" role="alert">{{ problem.message }}</span>
  </div>
</template>

<style scoped>
.offer {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
  margin-top: 8px;
}
</style>
