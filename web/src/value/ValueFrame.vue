<script setup lang="ts">
// What it is worth: the pages that compare, plan and look back.
import TrimByUse from './TrimByUse.vue'
import { say } from '../words/say'

const pages = [
  { name: 'desk', label: say('Does it pay?') },
  { name: 'best-use', label: say('Best use today') },
  { name: 'week', label: say('A week’s kill') },
  { name: 'carcass-value', label: say('Whole carcass') },
  { name: 'history', label: say('Over time') },
  { name: 'trials', label: say('Trials') },
  { name: 'shares', label: say('Shared') },
]
</script>

<template>
  <section class="page">
    <nav class="tabs no-print" aria-label="Pages of value">
      <RouterLink v-for="p in pages" :key="p.name" :to="{ name: p.name }" class="tab" exact-active-class="here">{{
        p.label
      }}</RouterLink>
    </nav>
    <TrimByUse />
    <RouterView />
  </section>
</template>

<style scoped>
.tabs {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
  border-bottom: 1px solid var(--hairline);
  margin-bottom: 18px;
}
.tab {
  display: inline-flex;
  align-items: center;
  min-height: 48px;
  padding: 0 12px;
  color: var(--ink-2);
  text-decoration: none;
  font-weight: 600;
  font-stretch: 88%;
  border-bottom: 4px solid transparent;
  margin-bottom: -1px;
}
.tab.here {
  color: var(--act);
  border-bottom-color: var(--act);
}
</style>
