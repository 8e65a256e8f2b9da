<script setup lang="ts">
// Did it pay? The sentence, the bridge, then the tables.
import { computed, ref } from 'vue'
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import PvButton from 'primevue/button'
import { keyOf } from '../../api/keys'
import StateNote from '../../components/StateNote.vue'
import SeamMap, { type MapMark } from '../../components/SeamMap.vue'
import { data, GET } from '../../api/client'
import { asProblem } from '../../api/problem'
import { useAtlasPiece } from '../../api/useAtlasPiece'
import { useShop } from '../../shell/shop'
import TrimByUse from '../../value/TrimByUse.vue'
import { shortName } from '../../words/shown'
import { toAddress } from '../../value/picks'
import StraightFan from '../../body/StraightFan.vue'
import BridgePicture from './BridgePicture.vue'
import PlatePicture from './PlatePicture.vue'
import JointCost, { type Method } from './JointCost.vue'
import OutputTable from './OutputTable.vue'
import PickOne from '../../components/PickOne.vue'
import { useTitle } from '../../shell/title'
import { say } from '../../words/say'

const props = defineProps<{ breakdown: string }>()
const { mass, money, perUnit, pricePer, unitWord } = useShop()
const baseline = ref<string>()
const today = ref(false)
const method = ref<Method>('nrv')
const {
  data: c,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('comparison', props.breakdown, baseline.value, today.value, method.value)),
  placeholderData: keepPreviousData,
  queryFn: () =>
    data(
      GET('/breakdowns/{breakdown_id}/comparison', {
        params: {
          path: { breakdown_id: props.breakdown },
          query: {
            ...(baseline.value && { baseline: baseline.value }),
            ...(today.value && { today: true }),
            method: method.value,
          },
        },
      }),
    ),
})
const { data: atlasPiece } = useAtlasPiece(() => c.value?.piece.atlas_id)
const unfinished = computed(() =>
  error.value ? asProblem(error.value).errors.some((e) => e.code === 'not_finished') : false,
)
const marks = computed<Record<string, MapMark>>(() => {
  const out: Record<string, MapMark> = {}
  for (const s of c.value?.bridge ?? []) {
    const part = c.value?.parts.find((x) => x.id === s.id)
    if (s.kind === 'muscle') out[s.id] = { name: s.name, code: part?.code ?? '', line: money(s.change, true) }
  }
  return out
})
const otherPlans = computed(() => atlasPiece.value?.plans.filter((p) => p.id !== c.value?.recorded.plan.id) ?? [])
/** The side that is cut straight into slices: the other way, else the piece as it was cut. */
const straight = computed(() => [c.value?.baseline.plan, c.value?.recorded.plan].find((p) => p?.sliced))
const pointed = ref<string>()
const further = computed(() => ({
  name: 'desk',
  query: {
    side: c.value
      ? [
          toAddress({ kind: 'plan', atlas_id: c.value.piece.atlas_id, plan_id: c.value.baseline.plan.id }),
          toAddress({ kind: 'piece', atlas_id: c.value.piece.atlas_id, breakdown_id: props.breakdown }),
        ]
      : [],
  },
}))
const print = () => window.print()

useTitle(() => c.value && `${shortName(c.value.piece.name)} ${c.value.piece.lot_number}`)
</script>

<template>
  <section class="page">
    <div v-if="unfinished" class="stack">
      <h1>This piece is not finished yet</h1>
      <p>
        The answer comes when its balance is closed.
        <RouterLink :to="{ name: 'bench', params: { breakdown } }">Go on at the bench</RouterLink>; what was weighed is
        kept.
      </p>
    </div>
    <StateNote v-else :error="error" :loading="isLoading" what="the comparison" @retry="refetch()" />
    <template v-if="c">
      <p class="label">
        {{ c.piece.name }} · {{ mass(c.piece.weight_g) }} · {{ c.piece.lot_number }} · {{ c.piece.supplier }} · cut on
        {{ c.piece.bench }}
      </p>
      <h1 class="sentence big" data-test="sentence">{{ c.sentence }}</h1>
      <p class="row anew">
        <span v-if="c.other_difference_per_kg" data-test="other"
          ><strong>{{ c.today ? say('At the prices of its day') : say('At today’s prices') }}:</strong>
          {{ money(perUnit(c.other_difference_per_kg), true) }} a {{ unitWord }},
          {{ money(c.other_difference ?? 0, true) }} on the piece.</span
        ><span v-else class="small">Today’s prices make no difference to it.</span
        ><PvButton
          v-if="c.other_difference_per_kg || today"
          class="no-print"
          severity="secondary"
          :label="today ? say('Prices of its day') : say('Use today’s prices')"
          data-test="reprice"
          @click="today = !today"
        />
      </p>
      <dl class="figures">
        <div>
          <dt>a {{ unitWord }} of block</dt>
          <dd class="figure" data-test="per-kg">{{ money(perUnit(c.difference_per_kg), true) }}</dd>
        </div>
        <div>
          <dt>on the piece</dt>
          <dd class="figure" data-test="difference">{{ money(c.difference, true) }}</dd>
        </div>
        <div v-if="c.difference_per_hour">
          <dt>for each extra bench hour, before its labour</dt>
          <dd class="figure">{{ money(c.difference_per_hour, true) }}</dd>
        </div>
        <div v-if="otherPlans.length > 1">
          <dt>against</dt>
          <dd>
            <PickOne
              :model-value="c.baseline.plan.id"
              label="The way it is compared with"
              :options="otherPlans"
              @update:model-value="baseline = $event"
            />
          </dd>
        </div>
      </dl>
      <p
        v-for="a in c.recorded.grade_conflicts ?? []"
        :key="a.product + a.part"
        class="fault doubt"
        data-test="grade-conflict"
      >
        {{ a.sentence }}
      </p>
      <div class="pictures">
        <BridgePicture :steps="c.bridge" :from="c.baseline" :to="c.recorded" @point="(id) => (pointed = id)" />
        <figure class="map">
          <SeamMap
            :map="c.seam_map"
            :marks="marks"
            title="What each muscle gained or lost"
            :size="4"
            :picked="pointed"
            keyed
          />
          <figcaption class="small">
            Areas by {{ c.map_basis }} weights; figures are what each muscle gained.
          </figcaption>
        </figure>
      </div>
      <div class="tables">
        <OutputTable :title="say`As it was cut: ${c.recorded.plan.name}`" :sheet="c.recorded" @priced="refetch()" />
        <OutputTable :title="say`The same piece: ${c.baseline.plan.name}`" :sheet="c.baseline" @priced="refetch()" />
      </div>
      <PlatePicture :plans="[c.recorded, c.baseline]" />
      <section v-if="straight" class="straight">
        <h2>Straight through, slice by slice: {{ straight.short }}</h2>
        <StraightFan :piece="c.piece.atlas_id" :plan="straight.id" :breakdown="breakdown" />
      </section>
      <JointCost v-model="method" :comparison="c" />
      <p class="small basis">{{ c.basis }}</p>
      <div class="row no-print">
        <PvButton severity="secondary" label="Print" @click="print" /><RouterLink
          class="further"
          :to="further"
          data-test="further"
          >Compare further: causes, costs, what would turn it, other pieces</RouterLink
        ><span class="small"
          >{{ pricePer(c.recorded.totals.per_kg) }} as cut, {{ pricePer(c.baseline.totals.per_kg) }} the other way,
          after all costs.</span
        >
      </div>
      <TrimByUse />
    </template>
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0 14px;
}
.figures {
  display: flex;
  gap: 48px;
  margin: 0 0 18px;
  flex-wrap: wrap;
}
.figures dt {
  font-size: 13px;
  color: var(--ink-2);
  font-stretch: 86%;
}
.figures dd {
  margin: 2px 0 0;
}
.pictures {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  gap: 28px;
  align-items: start;
}
.anew {
  gap: 16px;
  margin: 0 0 10px;
  min-height: 24px;
}
.map {
  margin: 0;
}
.doubt {
  margin-bottom: 10px;
}
.tables {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 28px;
  margin-top: 24px;
  align-items: start;
}
.straight {
  margin-top: 24px;
}
.basis {
  margin: 16px 0;
  max-width: 90ch;
}
@media (max-width: 1000px) {
  .pictures,
  .tables {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
