<script setup lang="ts">
// The bar: the rail with its stages, one place for everything else, the search, and who looks at this screen. A bench
// shows nothing of a desk's pages, but its own keys.
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import MenuButton from './MenuButton.vue'
import PageLinks from './PageLinks.vue'
import StageRail from './StageRail.vue'
import YouPanel from './YouPanel.vue'
import { pageGroups } from './pages'
import { useEventListener } from './useEventListener'
import { useMe } from './me'

const HelpPanel = defineAsyncComponent(() => import('./HelpPanel.vue'))
const SearchBox = defineAsyncComponent(() => import('./SearchBox.vue'))
const route = useRoute()
const { me, may, onBench } = useMe()
const atBench = computed(() => route.meta.bench === true)
const groups = computed(() =>
  pageGroups
    .map((g) => ({ ...g, pages: g.pages.filter((p) => !p.needs || may(p.needs)) }))
    .filter((g) => g.pages.length && !(onBench.value && g.id === 'shop')),
)
const name = computed(() => String(route.name ?? ''))
const holds = (g: { pages: { name: string }[] }) =>
  g.pages.some((p) => p.name === name.value || p.name === route.meta.in) && name.value !== 'receive'

const searching = ref(false)
watch(
  () => route.fullPath,
  () => {
    searching.value = false
    helping.value = false
  },
)
const helping = ref(false)
/** "/" searches, "?" helps; a bench has keys of its own. */
function keys(e: KeyboardEvent) {
  if (!['/', '?'].includes(e.key) || e.ctrlKey || e.metaKey || e.altKey || atBench.value) return
  if (e.target instanceof HTMLElement && e.target.closest('input, textarea, select, [contenteditable]')) return
  e.preventDefault()
  if (e.key === '/') searching.value = true
  else helping.value = true
}
useEventListener('keydown', keys)
</script>

<template>
  <header class="bar no-print" :class="{ 'at-bench': atBench }">
    <RouterLink class="mark" :to="{ name: 'rail' }" aria-label="Falda, all pieces on the rail">Falda</RouterLink>
    <StageRail v-if="!atBench" class="stages" />
    <div v-if="!atBench" class="tools">
      <button type="button" class="search" :aria-expanded="searching" @click="searching = !searching">
        Search <kbd aria-hidden="true">/</kbd>
      </button>
      <button type="button" class="search help" aria-label="Help with this page" @click="helping = true">?</button>
      <MenuButton v-for="g in groups" :key="g.label" class="wide" :label="g.label" :here="holds(g)">
        <PageLinks :pages="g.pages" />
      </MenuButton>
      <MenuButton class="narrow" label="Menu" :here="groups.some(holds)">
        <span class="all"><PageLinks v-for="g in groups" :key="g.label" :pages="g.pages" :label="g.label" /></span>
      </MenuButton>
    </div>
    <div v-else id="bar-keys" />
    <RouterLink v-if="atBench && onBench" class="who" :to="{ name: 'who' }"
      >{{ me?.name }} · {{ me?.screen?.bench }}</RouterLink
    >
    <MenuButton v-else :label="onBench ? `${me?.name} · ${me?.screen?.bench}` : (me?.name ?? '')">
      <YouPanel />
    </MenuButton>
    <HelpPanel v-if="helping" @close="helping = false" />
    <SearchBox v-if="searching" @close="searching = false" />
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: stretch;
  gap: 16px;
  min-height: 56px;
  padding: 0 28px;
  background: var(--surface);
  border-bottom: 1px solid var(--hairline);
  position: sticky;
  top: 0;
  z-index: 20;
}
.mark {
  display: flex;
  align-items: center;
  min-width: 56px;
  font-size: 24px;
  font-weight: 800;
  font-stretch: 76%;
  color: var(--ink);
  text-decoration: none;
}
.tools {
  display: flex;
  align-items: stretch;
}
.search {
  align-self: center;
  min-height: 44px;
  padding: 0 12px;
  margin-right: 8px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: none;
  cursor: pointer;
  font-weight: 600;
  font-stretch: 86%;
  color: var(--ink-2);
  white-space: nowrap;
}
.who {
  display: flex;
  align-items: center;
  min-height: 56px;
  padding: 0 12px;
  font-weight: 650;
  font-stretch: 86%;
  color: var(--ink);
  text-underline-offset: 3px;
}
.narrow {
  display: none;
}
.all {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(150px, 1fr));
  gap: 8px;
  min-width: min(660px, 92vw);
}
#bar-keys {
  flex: 1;
  display: flex;
  justify-content: flex-end;
  align-items: center;
}
@media (max-width: 1180px) {
  .bar {
    gap: 8px;
    padding: 0 16px;
  }
  .wide {
    display: none;
  }
  .narrow {
    display: flex;
  }
}
@media (max-width: 760px) {
  .search kbd {
    display: none;
  }
}
@media (max-width: 700px) {
  .bar {
    flex-wrap: wrap;
    gap: 0 8px;
    padding: 0 12px;
  }
  .stages {
    order: 1;
    flex: 1 0 100%;
  }
  .mark {
    flex: 1;
  }
  .at-bench .mark {
    flex: none;
  }
  .all {
    min-width: 0;
    grid-template-columns: 1fr 1fr;
  }
}
@media (max-height: 500px) {
  .bar {
    position: relative;
  }
}
</style>
