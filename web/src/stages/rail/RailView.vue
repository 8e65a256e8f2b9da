<script setup lang="ts">
// All pieces, each hanging at the stage where it waits.
import { computed } from 'vue'
import { speciesChoices } from '../../words/species'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { useRouter } from 'vue-router'
import MoreRows from '../../components/MoreRows.vue'
import ReceivedLine from '../receive/ReceivedLine.vue'
import StateNote from '../../components/StateNote.vue'
import UnitToggle from '../../components/UnitToggle.vue'
import { useMe } from '../../shell/me'
import FirstSteps from './FirstSteps.vue'
import RailColumn from './RailColumn.vue'
import RailSkeleton from './RailSkeleton.vue'
import { byDay, useRail } from './useRail'
import { useRailFilter } from './useRailFilter'
import { say } from '../../words/say'

const router = useRouter()
const { may } = useMe()
const { counts, error, data: cards, refetch, hasNextPage, isFetchingNextPage, fetchNextPage } = useRail()
const { form, set, fits, clear } = useRailFilter()
const shown = computed(() => (cards.value ?? []).filter(fits))

const stages = [
  { id: 'plan', name: say('Plan'), empty: say('Nothing waits for a plan. Receive a lot, and its pieces hang here.') },
  { id: 'bench', name: say('Bench'), empty: say('Nothing is planned. Choose a plan for a piece on the left.') },
  { id: 'judge', name: say('Judge'), empty: say('A piece finished on the bench comes here for its cooking methods.') },
  { id: 'compare', name: say('Compare'), empty: say('Finished pieces stay here with their answer.') },
] as const

const kinds = computed(() => speciesChoices(cards.value?.map((c) => c.atlas_id.split('.')[0]!) ?? []))
const sentence = computed(() => {
  const c = counts.value
  if (!cards.value) return error.value ? say('The rail') : say('The rail is being read…')
  if (!cards.value.length) return say('The rail is empty. Receive the first lot.')
  const parts = [
    c.plan && say`${c.plan} wait${c.plan === 1 ? 's' : ''} for a plan`,
    c.bench && say`${c.bench} ${c.bench === 1 ? say('is') : say('are')} for the bench`,
    c.judge && say`${c.judge} to be judged`,
  ].filter(Boolean)
  return parts.length ? `${parts.join(', ')}.` : say('Everything is cut and judged.')
})
</script>

<template>
  <section class="page" :aria-busy="!cards && !error">
    <ReceivedLine />
    <div class="top">
      <h1 class="sentence">{{ sentence }}</h1>
      <span class="row acts">
        <RouterLink class="ready" :to="{ name: 'ready' }">Ready when</RouterLink>
        <PvButton v-if="may('POST /lots')" label="Receive a lot" @click="router.push({ name: 'receive' })" />
      </span>
    </div>
    <form v-if="cards?.length" class="row filter no-print" aria-label="Which pieces" @submit.prevent>
      <InputText
        v-model="form.q"
        type="search"
        placeholder="Lot, cut, supplier, plan or bench"
        aria-label="Lot, cut, supplier, plan or bench"
      />
      <UnitToggle v-model="form.kind" :options="kinds.ids" :names="kinds.names" label="Species" />
      <label class="tick"><input v-model="form.ready" type="checkbox" /> old enough today</label>
      <PvButton v-if="set" text label="Show all" @click="clear" />
    </form>
    <StateNote :error="error" what="the rail" @retry="refetch()" />
    <FirstSteps v-if="cards && may('POST /prices/guesses') && may('POST /people')" :cards="cards" />
    <RailSkeleton v-if="!cards && !error" />
    <div v-if="cards" class="columns">
      <RailColumn
        v-for="s in stages"
        :id="s.id"
        :key="s.id"
        :name="s.name"
        :stage="s.id"
        :cards="byDay(shown.filter((c) => c.stage === s.id))"
        :empty="set ? say('None of these.') : s.empty"
        :open="set"
      />
    </div>
    <MoreRows :more="hasNextPage" :busy="isFetchingNextPage" label="Show more of what waits" @more="fetchNextPage()" />
  </section>
</template>

<style scoped>
.top {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 8px 16px;
  margin-bottom: 14px;
}
.ready {
  min-height: 44px;
  display: inline-flex;
  align-items: center;
}
.filter {
  margin-bottom: 18px;
}
.filter .p-inputtext {
  width: min(360px, 100%);
}
.columns {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 1fr));
  gap: 20px;
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
