<script setup lang="ts">
// Where the page hangs: the way back up, one step at a time.
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { shown } from './title'

const route = useRoute()
const router = useRouter()
const up = computed(() => {
  const steps: { title: string; to: { name: string; params?: Record<string, string> } }[] = []
  const piece = route.params.piece
  for (let at = route.meta.in; at;) {
    const r = router.getRoutes().find((x) => x.name === at)
    if (!r) break
    const params = r.path.includes(':piece') && typeof piece === 'string' ? { piece } : undefined
    steps.unshift({ title: r.meta.title ?? at, to: { name: at, ...(params && { params }) } })
    at = r.meta.in
  }
  return steps
})
</script>

<template>
  <nav v-if="up.length" class="crumbs no-print" aria-label="Where this page is">
    <ol>
      <li v-for="s in up" :key="s.title">
        <RouterLink :to="s.to">{{ s.title }}</RouterLink>
      </li>
      <li aria-current="page">{{ shown || route.meta.title }}</li>
    </ol>
  </nav>
</template>

<style scoped>
.crumbs {
  max-width: 1280px;
  margin: 0 auto;
  padding: 0 28px;
}
ol {
  display: flex;
  flex-wrap: wrap;
  list-style: none;
  margin: 0;
  padding: 0;
  font-size: 13px;
}
li {
  display: flex;
  align-items: center;
  min-height: 44px;
  color: var(--ink-2);
}
li + li::before {
  content: '›';
  padding: 0 8px;
}
a {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.crumbs + * {
  padding-top: 0;
}
@media (max-width: 700px) {
  .crumbs {
    padding: 0 16px;
  }
}
</style>
