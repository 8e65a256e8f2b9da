<script setup lang="ts">
// The rail: the stages of the work in their order, how many pieces hang at each, and this screen's own switches.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useRail } from '../stages/rail/useRail'
import { scheme, unitChoice } from './preferences'
import { useMe } from './me'
import { useShop } from './shop'

const route = useRoute()
const { counts } = useRail()
const { shop, unit } = useShop()
const { me, may, onBench } = useMe()

const stages = [
  { id: 'receive', name: 'Receive' },
  { id: 'plan', name: 'Plan' },
  { id: 'bench', name: 'Bench' },
  { id: 'judge', name: 'Judge' },
  { id: 'compare', name: 'Compare' },
] as const
const shown = computed(() => stages.filter((s) => s.id !== 'receive' || may('POST /lots')))
const here = computed(() => String(route.name ?? ''))

function target(id: string) {
  return id === 'receive' ? { name: 'receive' } : { name: 'rail', hash: `#${id}` }
}
</script>

<template>
  <header class="bar no-print">
    <RouterLink class="mark" :to="{ name: 'rail' }" aria-label="Falda: all pieces on the rail">Falda</RouterLink>
    <nav class="rail" aria-label="Stages of the work">
      <RouterLink
        v-for="s in shown"
        :key="s.id"
        :to="target(s.id)"
        class="stage"
        :class="{ here: here === s.id }"
        :aria-current="here === s.id ? 'step' : undefined"
      >
        <span class="hook" aria-hidden="true" />
        {{ s.name }}<span v-if="s.id !== 'receive' && counts[s.id]" class="count">{{ counts[s.id] }}</span>
      </RouterLink>
    </nav>
    <nav class="pages" aria-label="Pages">
      <RouterLink class="shop" :to="{ name: 'log' }">Log</RouterLink>
      <RouterLink class="shop" :to="{ name: 'atlas' }">Atlas</RouterLink>
      <RouterLink class="shop" :to="{ name: 'grades' }">Grades</RouterLink>
      <RouterLink class="shop" :to="{ name: 'cooking' }">Cook</RouterLink>
      <RouterLink class="shop" :to="{ name: 'desk' }">Value</RouterLink>
      <RouterLink
        v-if="!onBench"
        class="shop"
        :to="{ name: 'settings' }"
        :aria-label="`${shop?.name}: settings, people, benches`"
        >{{ shop?.name }}</RouterLink
      >
    </nav>
    <RouterLink
      class="who"
      :to="{ name: onBench ? 'who' : 'me' }"
      :aria-label="onBench ? `${me?.name} at ${me?.screen?.bench}; change who cuts` : `${me?.name}: your page`"
      >{{ me?.name }}<span v-if="onBench" class="bench"> · {{ me?.screen?.bench }}</span></RouterLink
    >
    <button
      type="button"
      class="switch"
      :aria-label="`Weights in ${unit}; change`"
      @click="unitChoice = unit === 'kg' ? 'lb' : 'kg'"
    >
      {{ unit }}
    </button>
    <button
      type="button"
      class="switch"
      :aria-label="`${scheme} scheme; change`"
      @click="scheme = scheme === 'light' ? 'dark' : 'light'"
    >
      {{ scheme === 'light' ? 'day' : 'night' }}
    </button>
  </header>
</template>

<style scoped>
.bar {
  display: flex;
  align-items: stretch;
  gap: 20px;
  height: 56px;
  padding: 0 28px;
  background: var(--surface);
  border-bottom: 1px solid var(--hairline);
  position: sticky;
  top: 0;
  z-index: 20;
}
.mark {
  align-self: center;
  font-size: 24px;
  font-weight: 800;
  font-stretch: 76%;
  color: var(--ink);
  text-decoration: none;
}
.rail {
  display: flex;
  flex: 1;
  border-top: 3px solid var(--ink);
  min-width: 0;
}
.stage {
  position: relative;
  display: flex;
  align-items: center;
  gap: 6px;
  padding: 0 18px 0 14px;
  color: var(--ink-2);
  text-decoration: none;
  font-stretch: 86%;
  font-weight: 600;
  white-space: nowrap;
}
.hook {
  width: 3px;
  height: 12px;
  background: var(--ink);
  position: absolute;
  top: 0;
  left: 14px;
}
.stage.here {
  color: var(--act);
  font-weight: 750;
}
.stage.here .hook {
  background: var(--act);
  width: 24px;
  height: 6px;
}
.count {
  font-weight: 700;
  color: var(--ink);
  font-size: 13px;
}
.shop {
  align-self: center;
  font-size: 13px;
  color: var(--ink-2);
  font-stretch: 86%;
  white-space: nowrap;
  padding: 12px 0;
}
.pages {
  display: flex;
  align-items: center;
  gap: 20px;
  min-width: 0;
  overflow-x: auto;
  scrollbar-width: none;
}
.who {
  align-self: center;
  display: inline-flex;
  align-items: center;
  min-height: 56px;
  font-weight: 650;
  color: var(--ink);
  white-space: pre;
  text-underline-offset: 3px;
  overflow: hidden;
  text-overflow: ellipsis;
  max-width: 240px;
}
.bench {
  color: var(--ink-2);
}
.switch {
  align-self: center;
  min-width: 52px;
  height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: none;
  font-weight: 650;
  cursor: pointer;
}
@media (max-width: 1180px) {
  .bar {
    gap: 12px;
    padding: 0 16px;
  }
  .rail {
    flex: 1 0 auto;
  }
  .stage {
    padding: 0 10px 0 6px;
  }
  .hook {
    left: 6px;
  }
  .pages {
    gap: 12px;
  }
}
@media (max-width: 900px) {
  .rail {
    flex: 1;
  }
  .who {
    max-width: 120px;
  }
  .bar {
    gap: 10px;
    padding: 0 12px;
  }
  .stage {
    padding: 0 8px 0 4px;
  }
  .hook {
    left: 4px;
  }
}
@media (max-width: 560px) {
  .rail {
    display: none;
  }
  .bar {
    justify-content: space-between;
  }
  .pages {
    flex: 1;
    gap: 14px;
  }
}
</style>
