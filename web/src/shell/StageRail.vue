<script setup lang="ts">
// The stages of the work in their order, and how many pieces hang at each.
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useRail } from '../stages/rail/useRail'
import { useMe } from './me'
import { say } from '../words/say'

const route = useRoute()
const { counts } = useRail()
const { may } = useMe()
const stages = [
  { id: 'receive', name: say('Receive') },
  { id: 'plan', name: say('Plan') },
  { id: 'bench', name: say('Bench') },
  { id: 'judge', name: say('Judge') },
  { id: 'compare', name: say('Compare') },
] as const
const seen = computed(() => stages.filter((s) => s.id !== 'receive' || may('POST /lots')))
const here = computed(() => String(route.name ?? ''))
const target = (id: string) => (id === 'receive' ? { name: 'receive' } : { name: 'rail', hash: `#${id}` })
</script>

<template>
  <nav class="rail" aria-label="Stages of the work">
    <RouterLink
      v-for="s in seen"
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
</template>

<style scoped>
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
  min-height: 52px;
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
@media (max-width: 1180px) {
  .stage {
    padding: 0 12px 0 8px;
  }
  .hook {
    left: 8px;
  }
}
@media (max-width: 700px) {
  .stage {
    flex: 1;
    justify-content: center;
    min-height: 44px;
    padding: 0 2px;
    gap: 3px;
    font-size: 14px;
    font-stretch: 78%;
  }
  .hook {
    left: 50%;
    height: 7px;
  }
  .stage.here .hook {
    margin-left: -12px;
  }
}
</style>
