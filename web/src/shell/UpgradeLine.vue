<script setup lang="ts">
// Says calmly that the program was upgraded while this page was open. Nothing is lost by going on, nor by loading.
import PvButton from 'primevue/button'
import { upgraded } from '../api/page'

const load = () => location.reload()
</script>

<template>
  <p v-if="upgraded" class="upgrade" role="status" data-test="upgraded">
    <span>Falda was upgraded. This page goes on working, and what waits here is kept.</span>
    <PvButton label="Load the new one" severity="secondary" @click="load" />
  </p>
</template>

<style scoped>
.upgrade {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
  margin: 0;
  padding: 6px 20px;
  border-bottom: 1px solid var(--line);
  background: var(--surface);
  font-size: 15px;
}
</style>
