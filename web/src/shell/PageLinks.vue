<script setup lang="ts">
// The pages of one group of the menu.
import { useRoute } from 'vue-router'
import type { Page } from './pages'

defineProps<{ pages: Page[]; label?: string }>()
const route = useRoute()
</script>

<template>
  <nav class="group" :aria-label="label">
    <span v-if="label" class="label" aria-hidden="true">{{ label }}</span>
    <RouterLink
      v-for="p in pages"
      :key="p.name"
      :to="{ name: p.name }"
      class="page-link"
      :aria-current="route.name === p.name ? 'page' : undefined"
      >{{ p.label }}</RouterLink
    >
  </nav>
</template>

<style scoped>
.group {
  display: flex;
  flex-direction: column;
}
.label {
  padding: 8px 12px 2px;
}
.page-link {
  display: flex;
  align-items: center;
  min-height: 44px;
  padding: 0 12px;
  color: var(--ink);
  text-decoration: none;
  font-weight: 600;
  white-space: nowrap;
}
.page-link:hover {
  background: var(--act-wash);
}
.page-link[aria-current='page'] {
  color: var(--act);
  box-shadow: inset 4px 0 0 var(--act);
}
</style>
