<script setup lang="ts">
// Ways to cut a piece: any two side by side, with what can be chosen within each, and the shop's own.
import { computed, reactive, ref, shallowRef, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { data, POST, type S } from '../api/client'
import { asProblem, type Problem } from '../api/problem'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import BridgePicture from '../stages/compare/BridgePicture.vue'
import OutputTable from '../stages/compare/OutputTable.vue'
import { typedMass } from '../words/typed'
import OwnPlans from './OwnPlans.vue'
import PlanFileBox from './PlanFileBox.vue'
import PlanSide from './PlanSide.vue'
import { usePlans } from './usePlans'
import { useTitle } from '../shell/title'
import { say } from '../words/say'

const props = defineProps<{ piece: string }>()
const route = useRoute()
const queries = useQueryClient()
const { may } = useMe()
const { unit, bare, money, perUnit, unitWord } = useShop()
const { data: list, error, isLoading, refetch } = usePlans(() => props.piece)

const a = reactive({ plan: '', options: {} as Record<string, string> })
const b = reactive({ plan: '', options: {} as Record<string, string> })
const form = reactive({ weight: '', weightUnit: 'kg', price: '', pricePer: 'kg' })
watch(
  unit,
  (u) => {
    if (!form.weight) form.weightUnit = u
    if (!form.price) form.pricePer = u
  },
  { immediate: true },
)
watch(
  list,
  (l) => {
    if (!l || a.plan) return
    const asked = String(route.query.b ?? '')
    a.plan = String(route.query.a ?? '') || (l.plans[0]?.plan.id ?? '')
    b.plan =
      (l.plans.some((p) => p.plan.id === asked) ? asked : '') ||
      (l.plans.find((p) => p.plan.cut === 'seams')?.plan.id ?? l.plans[1]?.plan.id ?? a.plan)
  },
  { immediate: true },
)

const c = shallowRef<S['PlanComparison']>()
const problem = shallowRef<Problem>()
const asking = ref(false)
let turn = 0
let timer: ReturnType<typeof setTimeout> | undefined
async function ask() {
  const mine = ++turn
  const w = typedMass(form.weight)
  asking.value = true
  try {
    const got = await data(
      POST('/plans/{atlas_id}/compare', {
        params: { path: { atlas_id: props.piece } },
        body: {
          a: { plan_id: a.plan, options: a.options },
          b: { plan_id: b.plan, options: b.options },
          ...(w.number && { weight: w.number, weight_unit: (w.unit ?? form.weightUnit) as 'kg' }),
          ...(form.price.trim() && { price: form.price.trim(), price_per: form.pricePer as 'kg' }),
        },
      }),
    )
    if (mine !== turn) return
    c.value = got
    problem.value = undefined
  } catch (e) {
    if (mine === turn) problem.value = asProblem(e)
  } finally {
    if (mine === turn) asking.value = false
  }
}
watch(
  () => JSON.stringify([a, b, form]),
  () => {
    clearTimeout(timer)
    if (a.plan && b.plan) timer = setTimeout(() => void ask(), 150)
  },
  { immediate: true },
)

const fault = (field: string) => problem.value?.at(field) ?? ''
const fields = computed(() => [
  'weight',
  'price',
  ...['a', 'b'].flatMap((s) => [
    `${s}.plan_id`,
    `${s}.options.fat_cover`,
    ...(list.value?.plans.flatMap((p) => p.options.map((o) => `${s}.options.${o.id}`)) ?? []),
  ]),
])
const own = computed(() => list.value?.plans.filter((p) => p.plan.own) ?? [])
const priced = () => {
  void ask()
  void queries.invalidateQueries()
}
const useful = computed(() => c.value?.break_even.filter((e) => e.price && e.price_now).slice(0, 6) ?? [])

useTitle(() => list.value?.name)
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the ways to cut it" @retry="refetch()" />
    <template v-if="list">
      <p class="label">
        <RouterLink :to="{ name: 'atlas-piece', params: { piece } }">{{ list.name }}</RouterLink> · ways to cut it
      </p>
      <h1 class="sentence big" data-test="sentence" aria-live="polite">
        {{ c?.sentence ?? say`Ways to cut ${list.name}` }}
      </h1>
      <div class="ask">
        <FormField id="weight" label="A piece of" :fault="fault('weight')"
          ><span class="with"
            ><InputText
              id="weight"
              v-model="form.weight"
              inputmode="decimal"
              autocomplete="off"
              :placeholder="bare(list.typical_g, 1)" /><UnitToggle
              v-model="form.weightUnit"
              :options="['kg', 'lb']"
              label="Unit of the weight" /></span
        ></FormField>
        <FormField id="price" label="Bought at; may be left open" :fault="fault('price')"
          ><span class="with"
            ><InputText id="price" v-model="form.price" inputmode="decimal" autocomplete="off" /><UnitToggle
              v-model="form.pricePer"
              :options="['kg', 'lb']"
              label="Price per" /></span
        ></FormField>
      </div>
      <div class="sides">
        <PlanSide
          v-model:plan="a.plan"
          v-model:options="a.options"
          letter="A"
          :plans="list.plans"
          :fault="(f) => fault(`a.${f}`)"
        />
        <PlanSide
          v-model:plan="b.plan"
          v-model:options="b.options"
          letter="B"
          :plans="list.plans"
          :fault="(f) => fault(`b.${f}`)"
        />
      </div>
      <p v-if="problem?.rest(fields)" class="fault" role="alert">{{ problem.rest(fields) }}</p>
      <template v-if="c">
        <dl class="figures">
          <div>
            <dt>B against A, a {{ unitWord }} of block</dt>
            <dd class="figure" data-test="per-kg">{{ money(perUnit(c.difference_per_kg), true) }}</dd>
          </div>
          <div>
            <dt>on the piece</dt>
            <dd class="figure">{{ money(c.difference, true) }}</dd>
          </div>
          <div v-if="c.difference_per_hour">
            <dt>for each extra bench hour, before its labour</dt>
            <dd class="figure">{{ money(c.difference_per_hour, true) }}</dd>
          </div>
        </dl>
        <BridgePicture :steps="c.bridge" :from="c.a" :to="c.b" :names="[say('Way A'), say('Way B')]" />
        <p
          v-for="d in [
            ...(c.a.grade_conflicts ?? []).map((x) => ({ ...x, way: 'A' })),
            ...(c.b.grade_conflicts ?? []).map((x) => ({ ...x, way: 'B' })),
          ]"
          :key="d.way + d.product + d.part"
          class="fault"
          data-test="grade-conflict"
        >
          {{ d.way }}: {{ d.sentence }}
        </p>
        <div class="tables">
          <OutputTable :title="`A: ${c.a.plan.name}`" :sheet="c.a" @priced="priced" /><OutputTable
            :title="`B: ${c.b.plan.name}`"
            :sheet="c.b"
            @priced="priced"
          />
        </div>
        <p v-if="useful.length" class="small">
          A and B come out even
          {{
            useful
              .map(
                (e) =>
                  say`at ${money(perUnit(e.price))} for ${e.name.toLowerCase()} (now ${money(perUnit(e.price_now!))})`,
              )
              .join(say('; or '))
          }}, a {{ unitWord }}.
        </p>
        <p class="small">Estimated from the atlas' typical shares and today's prices.</p>
      </template>
      <div class="below">
        <div>
          <h2>Our own ways</h2>
          <OwnPlans :piece="piece" :plans="own" />
          <PlanFileBox v-if="may('POST /plans/{atlas_id}/file')" :piece="piece" />
        </div>
        <div v-if="may('POST /plans/{atlas_id}')">
          <h2>Make one</h2>
          <p class="small">Step by step on the map, starting from</p>
          <ul class="copies">
            <li v-for="p in list.plans.filter((x) => !x.retired && !x.faults.length)" :key="p.plan.id">
              <RouterLink :to="{ name: 'plan-steps-new', params: { piece }, query: { from: p.plan.id } }">{{
                p.plan.name
              }}</RouterLink>
              <RouterLink
                class="small"
                :to="{ name: 'plan-new', params: { piece }, query: { from: p.plan.id } }"
                :aria-label="say`${p.plan.name}, by percentages`"
                >by percentages</RouterLink
              >
            </li>
          </ul>
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0 14px;
}
.ask {
  display: flex;
  gap: 24px;
  flex-wrap: wrap;
  margin-bottom: 14px;
}
.ask > * {
  width: 300px;
  max-width: 100%;
}
.with {
  display: flex;
}
.sides,
.tables {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 24px;
  align-items: start;
}
.tables {
  margin: 16px 0;
}
.figures {
  display: flex;
  gap: 48px;
  margin: 18px 0;
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
.below {
  display: grid;
  grid-template-columns: minmax(0, 1.6fr) minmax(0, 1fr);
  gap: 40px;
  border-top: 1px solid var(--hairline);
  margin-top: 24px;
  padding-top: 16px;
}
.page :deep(.bridge) {
  max-width: 940px;
}
.copies {
  margin: 4px 0;
  padding-left: 0;
  list-style: none;
}
.copies li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 16px;
  border-bottom: 1px solid var(--hairline);
}
.copies a {
  padding: 10px 0;
}
@media (max-width: 900px) {
  .sides,
  .tables,
  .below {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
