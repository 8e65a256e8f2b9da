<script setup lang="ts">
// The pages of the shop itself; who may see none of them is told so.
import { computed } from 'vue'
import { useMe, type Route } from '../shell/me'
import { useShop } from '../shell/shop'
import { say } from '../words/say'

const { me, may } = useMe()
const { shop } = useShop()
const pages: { name: string; label: string; needs: Route }[] = [
  { name: 'settings', label: say('Settings'), needs: 'GET /shop' },
  { name: 'prices', label: say('Prices'), needs: 'GET /prices' },
  { name: 'ingredients', label: say('Ingredients'), needs: 'GET /ingredients' },
  { name: 'people', label: say('People'), needs: 'GET /people' },
  { name: 'benches', label: say('Benches'), needs: 'GET /benches' },
  { name: 'tokens', label: say('Tokens'), needs: 'GET /tokens' },
  { name: 'audit', label: say('Who changed what'), needs: 'GET /audit' },
]
const seen = computed(() => pages.filter((p) => may(p.needs)))
</script>

<template>
  <section class="page">
    <header class="head no-print">
      <h1>{{ shop?.name }}</h1>
      <nav aria-label="Pages of the shop">
        <RouterLink v-for="p in seen" :key="p.name" :to="{ name: p.name }" class="tab" exact-active-class="here">{{
          p.label
        }}</RouterLink>
      </nav>
    </header>
    <RouterView v-slot="{ Component, route }">
      <component :is="Component" v-if="me && seen.some((p) => p.name === route.name)" />
      <p v-else-if="me">This page is not for your role. An owner of the shop can give you another.</p>
    </RouterView>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  align-items: baseline;
  gap: 32px;
  flex-wrap: wrap;
  border-bottom: 1px solid var(--hairline);
  margin-bottom: 20px;
}
nav {
  display: flex;
  gap: 4px;
  flex-wrap: wrap;
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
