<script setup lang="ts">
// All pieces, each hanging at the stage where it waits.
import { computed } from 'vue'
import PvButton from 'primevue/button'
import { useRouter } from 'vue-router'
import MoreRows from '../../components/MoreRows.vue'
import StateNote from '../../components/StateNote.vue'
import GroupTag from './GroupTag.vue'
import PieceTag from './PieceTag.vue'
import { grouped, useRail } from './useRail'
import { useMe } from '../../shell/me'

const router = useRouter()
const { may } = useMe()
const { at, counts, error, isLoading, data: cards, refetch, hasNextPage, isFetchingNextPage, fetchNextPage } = useRail()

const stages = [
  { id: 'plan', name: 'Plan', empty: 'Nothing waits for a plan. Receive a lot, and its pieces hang here.' },
  { id: 'bench', name: 'Bench', empty: 'Nothing is planned. Choose a plan for a piece on the left.' },
  { id: 'judge', name: 'Judge', empty: 'A piece finished on the bench comes here for its cooking methods.' },
  { id: 'compare', name: 'Compare', empty: 'Finished pieces stay here with their answer.' },
] as const

const sentence = computed(() => {
  const c = counts.value
  if (!cards.value?.length) return 'The rail is empty. Receive the first lot.'
  const parts = [
    c.plan && `${c.plan} wait${c.plan === 1 ? 's' : ''} for a plan`,
    c.bench && `${c.bench} ${c.bench === 1 ? 'is' : 'are'} for the bench`,
    c.judge && `${c.judge} to be judged`,
  ].filter(Boolean)
  return parts.length ? `${parts.join(', ')}.` : 'Everything is cut and judged.'
})
</script>

<template>
  <section class="page">
    <div class="spread top">
      <h1 class="sentence">{{ sentence }}</h1>
      <RouterLink class="ready" :to="{ name: 'ready' }">What is ready when</RouterLink>
      <PvButton v-if="may('POST /lots')" label="Receive a lot" @click="router.push({ name: 'receive' })" />
    </div>
    <StateNote :error="error" :loading="isLoading" what="the rail" @retry="refetch()" />
    <div v-if="cards" class="columns">
      <section v-for="s in stages" :id="s.id" :key="s.id" class="column" :aria-label="s.name">
        <h2 class="head">
          <span>{{ s.name }}</span><span class="count">{{ counts[s.id] ?? 0 }}</span>
        </h2>
        <template v-for="g in grouped(at(s.id))" :key="g[0]!.id">
          <GroupTag v-if="g.length > 1" :cards="g" />
          <template v-else><PieceTag v-for="c in g" :key="c.id" :card="c" /></template>
        </template>
        <p v-if="at(s.id).length === 0" class="empty small">{{ s.empty }}</p>
      </section>
    </div>
    <MoreRows :more="hasNextPage" :busy="isFetchingNextPage" label="Show more of what waits" @more="fetchNextPage()" />
  </section>
</template>

<style scoped>
.ready {
  margin-left: auto;
  min-height: 44px;
  display: inline-flex;
  align-items: center;
}
.top {
  align-items: center;
  margin-bottom: 20px;
}
.columns {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 20px;
}
.head {
  display: flex;
  justify-content: space-between;
  border-top: 4px solid var(--ink);
  padding: 8px 2px 12px;
  font-stretch: 84%;
}
.count {
  color: var(--ink-2);
}
.empty {
  padding: 12px 2px;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: 1fr 1fr;
  }
}
@media (max-width: 560px) {
  .columns {
    grid-template-columns: 1fr;
  }
}
</style>
