<script setup lang="ts">
// The plans side by side for this very piece, the sentence that says which pays, and the choice.
import { computed, nextTick, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import PvButton from 'primevue/button'
import { keyOf } from '../../api/keys'
import ReceivedLine from '../receive/ReceivedLine.vue'
import StateNote from '../../components/StateNote.vue'
import SeamMap, { type MapMark } from '../../components/SeamMap.vue'
import { data, GET, POST, PUT } from '../../api/client'
import { useAttempt } from '../../api/useAttempt'
import { benchChoice } from '../../shell/preferences'
import { useShop } from '../../shell/shop'
import { plainDay, shortName } from '../../words/shown'
import { useMe } from '../../shell/me'
import { useRail, workplace } from '../rail/useRail'
import PickOne from '../../components/PickOne.vue'
import BlockPicture from '../../body/BlockPicture.vue'
import StraightFan from '../../body/StraightFan.vue'
import StepList from '../../plans/StepList.vue'
import PlanOptions from '../../plans/PlanOptions.vue'
import { usePlans } from '../../plans/usePlans'
import PlatePicture from '../compare/PlatePicture.vue'
import AgeingPicture from './AgeingPicture.vue'
import BenchStep from './BenchStep.vue'
import WayTable from './WayTable.vue'
import { useAddressForm } from '../../components/useAddressForm'
import PlanColumn from './PlanColumn.vue'
import { useTitle } from '../../shell/title'
import { say } from '../../words/say'

const props = defineProps<{ piece: string }>()
const router = useRouter()
const queries = useQueryClient()
const { shop, mass, money } = useShop()
const { me, may, onBench } = useMe()

const {
  data: detail,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: keyOf('piece', props.piece),
  queryFn: () => data(GET('/pieces/{piece_id}', { params: { path: { piece_id: props.piece } } })),
})
const marks = computed<Record<string, MapMark>>(() => {
  const out: Record<string, MapMark> = {}
  for (const p of detail.value?.parts ?? [])
    if (p.kind === 'muscle') out[p.id] = { name: p.name, code: p.code, line: mass(p.weight_g, 2) }
  return out
})
const chosen = computed(() => detail.value?.card.plan_id)
/** On a bench's screen its own bench, elsewhere all. */
const benches = computed(() => shop.value?.benches.filter((b) => !onBench.value || b.id === me.value?.screen?.bench_id))
const cautious = computed(() =>
  detail.value?.forecast.readiness?.ready === false ? detail.value.forecast.readiness.sentence : '',
)
const { busy, problem, attempt } = useAttempt()
const { data: plans } = usePlans(() => (detail.value?.card.carcass ? undefined : detail.value?.card.atlas_id))
const within = computed(() => plans.value?.plans.find((p) => p.plan.id === chosen.value))
const shown = useAddressForm<{
  ledger: boolean
  steps: boolean
  slices: boolean
  plates: boolean
  sliced: string
}>({
  ledger: false,
  steps: false,
  slices: false,
  plates: false,
  sliced: '',
})
/** The way that is chosen, or pays best, beside the traditional one: by value and eating. */
const plated = computed(() => {
  const all = detail.value?.card.carcass ? [] : (detail.value?.forecast.plans ?? [])
  const best = all.find((p) => p.plan.id === (chosen.value ?? detail.value?.forecast.better_plan)) ?? all[1]
  const usual = all[0]
  return [...new Set([best, usual])].filter((p) => p !== undefined)
})
/** The ways that cut this piece into slices, and the one whose slices are shown. */
const sliced = computed(() =>
  detail.value?.card.carcass
    ? []
    : (detail.value?.forecast.plans.filter((p) => p.plan.sliced).map((p) => ({ id: p.plan.id, name: p.plan.short })) ??
      []),
)
const straight = computed(() =>
  sliced.value.some((p) => p.id === shown.sliced) ? shown.sliced : (sliced.value[0]?.id ?? ''),
)
const isOpen = (e: Event) => (e.target as HTMLDetailsElement).open
const options = ref<Record<string, string>>({})
watch(
  detail,
  (d) => {
    options.value = { ...(d?.forecast.plans.find((p) => p.plan.id === d.card.plan_id)?.plan.chosen ?? {}) }
  },
  { immediate: true },
)
let timer: ReturnType<typeof setTimeout> | undefined
/** A choice within the plan is kept as soon as it is made; a thickness once the typing rests. */
function chose() {
  clearTimeout(timer)
  timer = setTimeout(() => void choose(chosen.value!, options.value), 400)
}
const optionFault = (o: string) => problem.value?.at(`options.${o}`) ?? ''
const optionFields = computed(() => [
  'options.fat_cover',
  ...(within.value?.options.map((o) => `options.${o.id}`) ?? []),
])

watch(
  () => detail.value?.card,
  (c) => {
    if (c?.breakdown_id) void router.replace(workplace({ ...c, stage: c.stage === 'plan' ? 'bench' : c.stage }))
  },
  { immediate: true },
)

const choose = (planId: string, within: Record<string, string> = {}) =>
  attempt(async () => {
    const d = await data(
      PUT('/pieces/{piece_id}/plan', {
        params: { path: { piece_id: props.piece } },
        body: { plan_id: planId, options: within, version: detail.value!.card.version },
      }),
    )
    const first = !chosen.value
    queries.setQueryData(keyOf('piece', props.piece), d)
    await queries.invalidateQueries({ queryKey: keyOf('pieces') })
    // the next step is the bench: Enter goes on
    if (first) await nextTick(() => document.querySelector<HTMLElement>('.step button')?.focus({ preventScroll: true }))
  })
const toBench = (benchId: string) =>
  attempt(async () => {
    const b = await data(
      POST('/pieces/{piece_id}/breakdown', {
        params: { path: { piece_id: props.piece } },
        body: { bench_id: benchId },
      }),
    )
    benchChoice.value = benchId
    await queries.invalidateQueries({ queryKey: keyOf('pieces') })
    await router.push({ name: 'bench', params: { breakdown: b.id } })
  })
/** The others of its lot that are not on a bench yet. */
const { data: rail } = useRail()
const fellows = computed(() =>
  detail.value?.card.carcass
    ? []
    : (rail.value ?? []).filter(
        (c) =>
          c.lot_id === detail.value?.card.lot_id &&
          c.atlas_id === detail.value.card.atlas_id &&
          c.id !== props.piece &&
          !c.breakdown_id &&
          !c.voided_at &&
          (c.stage === 'plan' || c.stage === 'bench'),
      ),
)
const together = ref(false)
const allToBench = (benchId: string) =>
  attempt(async () => {
    const own = detail.value!.card
    const others = fellows.value
    try {
      for (const c of others)
        await data(
          PUT('/pieces/{piece_id}/plan', {
            params: { path: { piece_id: c.id } },
            body: { plan_id: own.plan_id!, options: options.value, version: c.version },
          }),
        )
    } finally {
      // those that have it already have another version now
      await queries.invalidateQueries({ queryKey: keyOf('pieces') })
    }
    const b = await data(
      POST('/batches', { body: { piece_ids: [own.id, ...others.map((c) => c.id)], bench_id: benchId } }),
    )
    benchChoice.value = benchId
    await queries.invalidateQueries({ queryKey: keyOf('pieces') })
    await router.push({ name: 'batch', params: { batch: b.id } })
  })
const repriced = () => void queries.invalidateQueries()

useTitle(() => detail.value && `${shortName(detail.value.card.name)} ${detail.value.lot.lot_number}`)
</script>

<template>
  <section class="page">
    <ReceivedLine />
    <StateNote :error="error" :loading="isLoading" what="the piece" @retry="refetch()" />
    <template v-if="detail">
      <p class="label">
        {{ detail.card.name }} · {{ mass(detail.card.weight_g, 2) }} ·
        <RouterLink :to="{ name: 'lot', params: { lot: detail.card.lot_id } }">{{
          detail.lot.lot_number
        }}</RouterLink><template v-if="detail.card.of > 1">
          · {{ detail.card.number }} of {{ detail.card.of }}</template
        >
        · {{ detail.lot.supplier }} · slaughtered {{ plainDay(detail.lot.slaughtered_on) }}, day
        {{ detail.card.age_days }} · cost {{ money(detail.forecast.piece_cost) }}
      </p>
      <h1 class="sentence big">{{ detail.forecast.sentence || say`How will ${detail.card.name} be cut?` }}</h1>
      <p v-if="detail.card.voided_at" class="fault">This piece was voided: {{ detail.card.void_reason }}</p>
      <p v-if="detail.card.carcass" class="small">
        It is broken at a bench first, by one of these divisions; each piece then hangs on the rail with its own weight.
      </p>
      <p v-if="cautious" class="fault">{{ cautious }}</p>
      <p v-for="f in detail.lot.findings" :key="f.id" class="fault">{{ f.do }}</p>
      <p v-if="problem && problem.rest(optionFields)" class="fault" role="alert">
        {{ problem.rest(optionFields) }}
        <PvButton v-if="problem.status === 409" text label="Load it again" @click="refetch()" />
      </p>
      <div class="lay">
        <div>
          <WayTable
            :ways="detail.forecast.plans"
            :details="plans?.plans"
            :better="detail.forecast.better_plan"
            :chosen="chosen"
            :busy="busy"
            @choose="choose"
          />
          <details class="ledgers" :open="shown.ledger" @toggle="shown.ledger = isOpen($event)">
            <summary>What each gives and costs, line by line</summary>
            <div class="plans">
              <PlanColumn
                v-for="p in detail.forecast.plans"
                :key="p.plan.id"
                :plan="p"
                :piece="detail.card.carcass ? undefined : detail.card.atlas_id"
                @priced="repriced"
              />
            </div>
          </details>
          <details
            v-if="chosen && !detail.card.carcass"
            class="ledgers"
            :open="shown.steps"
            @toggle="shown.steps = isOpen($event)"
          >
            <summary>How it is done, step by step</summary>
            <template v-if="shown.steps">
              <StepList :piece="detail.card.atlas_id" :plan="chosen" :options="options" />
              <BlockPicture :piece="detail.card.atlas_id" :plan="chosen" />
            </template>
          </details>
          <details
            v-if="plated.length"
            class="ledgers"
            data-test="plated"
            :open="shown.plates"
            @toggle="shown.plates = isOpen($event)"
          >
            <summary>What is worth more, what eats better</summary>
            <PlatePicture v-if="shown.plates" :plans="plated" />
          </details>
          <details
            v-if="sliced.length"
            class="ledgers"
            data-test="sliced"
            :open="shown.slices"
            @toggle="shown.slices = isOpen($event)"
          >
            <summary>Straight through, slice by slice</summary>
            <template v-if="shown.slices">
              <label v-if="sliced.length > 1" class="which">
                The way
                <PickOne
                  :model-value="straight"
                  :options="sliced"
                  label="The way that is cut straight"
                  @update:model-value="shown.sliced = $event"
                />
              </label>
              <StraightFan :piece="detail.card.atlas_id" :plan="straight" />
            </template>
          </details>
        </div>
        <div class="side">
          <SeamMap
            :map="detail.seam_map"
            :marks="marks"
            title="The muscles of this piece, expected weights"
            :size="4.4"
            keyed
          />
          <p class="small">Expected weights, estimated from the atlas' typical shares.</p>
          <template v-if="within && (within.options.length || within.cover)">
            <h2>Within this plan</h2>
            <PlanOptions
              id="within"
              v-model="options"
              :plan="within"
              :fault="optionFault"
              :disabled="!may('PUT /pieces/{piece_id}/plan')"
              @changed="chose"
            />
          </template>
          <RouterLink
            v-if="!detail.card.carcass"
            class="small"
            :to="{ name: 'plans', params: { piece: detail.card.atlas_id }, query: chosen ? { b: chosen } : {} }"
            >Any two plans side by side, and our own plans</RouterLink
          >
        </div>
      </div>
      <AgeingPicture v-if="!detail.card.carcass && !detail.card.voided_at" :piece="piece" />
      <BenchStep
        v-if="chosen && may('POST /pieces/{piece_id}/breakdown')"
        v-model:together="together"
        :plan="within?.plan.short ?? ''"
        :fellows="fellows.length"
        :benches="benches ?? []"
        :usual="benchChoice"
        :busy="busy"
        @put="(bench) => (together && fellows.length ? allToBench(bench) : toBench(bench))"
      />
    </template>
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0 12px;
}
.ledgers {
  margin-top: 14px;
}
summary {
  cursor: pointer;
  min-height: 44px;
  padding-top: 12px;
  font-weight: 650;
}
.which {
  display: inline-flex;
  align-items: center;
  gap: 10px;
}
.plans {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(340px, 1fr));
  gap: 24px;
  align-items: start;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 280px;
  gap: 24px;
  margin-top: 16px;
  align-items: start;
}
.side {
  display: flex;
  flex-direction: column;
  gap: 12px;
}
@media (max-width: 1200px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
  .side {
    max-width: 520px;
  }
}
@media (max-width: 700px) {
  .plans {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
