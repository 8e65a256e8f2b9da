<script setup lang="ts">
// The plans side by side for this very piece, the sentence that says which pays, and the choice.
import { computed, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import PvButton from 'primevue/button'
import StateNote from '../../components/StateNote.vue'
import SeamMap, { type MapMark } from '../../components/SeamMap.vue'
import { data, GET, POST, PUT } from '../../api/client'
import { useAttempt } from '../../api/useAttempt'
import { benchChoice } from '../../shell/preferences'
import { plainDay, useShop } from '../../shell/shop'
import { useMe } from '../../shell/me'
import PlanColumn from './PlanColumn.vue'

const props = defineProps<{ piece: string }>()
const router = useRouter()
const queries = useQueryClient()
const { shop, mass, money } = useShop()
const { me, may, onBench } = useMe()

const { data: detail, error, isLoading, refetch } = useQuery({
  queryKey: ['piece', props.piece], queryFn: () => data(GET('/pieces/{piece_id}', { params: { path: { piece_id: props.piece } } })),
})
const marks = computed<Record<string, MapMark>>(() => {
  const out: Record<string, MapMark> = {}
  for (const p of detail.value?.parts ?? []) if (p.kind === 'muscle') out[p.id] = { name: p.name, code: p.code, line: mass(p.weight_g, 2) }
  return out
})
const chosen = computed(() => detail.value?.card.plan_id)
/** On a bench's screen its own bench, elsewhere all. */
const benches = computed(() => shop.value?.benches.filter((b) => !onBench.value || b.id === me.value?.screen?.bench_id))
const cautious = computed(() => (detail.value?.forecast.readiness?.ready === false ? detail.value.forecast.readiness.sentence : ''))
const { busy, problem, attempt } = useAttempt()

watch(() => detail.value?.card, (c) => {
  if (c?.breakdown_id) void router.replace({ name: c.stage === 'plan' ? 'bench' : c.stage, params: { breakdown: c.breakdown_id } })
}, { immediate: true })

const choose = (planId: string) => attempt(async () => {
  const d = await data(PUT('/pieces/{piece_id}/plan', { params: { path: { piece_id: props.piece } }, body: { plan_id: planId, version: detail.value!.card.version } }))
  queries.setQueryData(['piece', props.piece], d)
  await queries.invalidateQueries({ queryKey: ['pieces'] })
})
const toBench = (benchId: string) => attempt(async () => {
  const b = await data(POST('/pieces/{piece_id}/breakdown', { params: { path: { piece_id: props.piece } }, body: { bench_id: benchId } }))
  benchChoice.value = benchId
  await queries.invalidateQueries({ queryKey: ['pieces'] })
  await router.push({ name: 'bench', params: { breakdown: b.id } })
})
const repriced = () => void queries.invalidateQueries()
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the piece" @retry="refetch()" />
    <template v-if="detail">
      <p class="label">{{ detail.card.name }} · {{ mass(detail.card.weight_g, 2) }} · {{ detail.lot.lot_number }}<template v-if="detail.card.of > 1"> · {{ detail.card.number }} of {{ detail.card.of }}</template> · {{ detail.lot.supplier }} · slaughtered {{ plainDay(detail.lot.slaughtered_on) }}, day {{ detail.card.age_days }} · cost {{ money(detail.forecast.piece_cost) }}</p>
      <h1 class="sentence big">{{ detail.forecast.sentence }}</h1>
      <p v-if="cautious" class="fault">{{ cautious }}</p>
      <p v-for="f in detail.lot.findings" :key="f.id" class="fault">{{ f.do }}</p>
      <p v-if="problem" class="fault" role="alert">{{ problem.message }} <PvButton v-if="problem.status === 409" text label="Load it again" @click="refetch()" /></p>
      <div class="lay">
        <div class="plans"><PlanColumn v-for="p in detail.forecast.plans" :key="p.plan.id" :plan="p" :better="p.plan.id === detail.forecast.better_plan" :chosen="p.plan.id === chosen" :busy="busy" @choose="choose(p.plan.id)" @priced="repriced" /></div>
        <div class="side">
          <SeamMap :map="detail.seam_map" :marks="marks" title="The muscles of this piece, expected weights" :size="4.4" />
          <p class="small">Expected weights, estimated from the atlas' typical shares.</p>
          <template v-if="chosen && may('POST /pieces/{piece_id}/breakdown')">
            <h2>Put it on a bench</h2>
            <div class="row"><PvButton v-for="b in benches" :key="b.id" :label="b.name" :severity="b.id === benchChoice ? undefined : 'secondary'" :disabled="busy" @click="toBench(b.id)" /></div>
          </template>
          <p v-else-if="!chosen" class="small">Choose a way to cut; then it can go on a bench.</p>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.sentence { margin: 8px 0 12px; }
.plans { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: 24px; align-items: start; }
.lay { display: grid; grid-template-columns: minmax(0, 1fr) 300px; gap: 24px; margin-top: 16px; align-items: start; }
.side { display: flex; flex-direction: column; gap: 12px; position: sticky; top: 72px; }
@media (max-width: 1000px) { .lay { grid-template-columns: minmax(0, 1fr); } .side { position: static; } }
@media (max-width: 700px) { .plans { grid-template-columns: minmax(0, 1fr); } }
</style>
