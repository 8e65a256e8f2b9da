<script setup lang="ts">
// What the tubs should become so that the whole brings the most, or costs least; and the batches that follow from it.
import { computed, reactive, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf, pricedBy, refresh } from '../api/keys'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { data, POST, PUT, type S } from '../api/client'
import { asProblem, type Problem } from '../api/problem'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useStock } from '../goods/useStock'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { typedMass } from '../words/typed'
import BlendAnswer from './BlendAnswer.vue'
import MakingsList from './MakingsList.vue'
import TubTick from './TubTick.vue'
import { beginMaking, useRecipes } from './useMakings'

const router = useRouter()
const queries = useQueryClient()
const { shop, money } = useShop()
const { may } = useMe()
const { done } = useFeedback()
const { data: stock, error: stockError, isLoading, refetch } = useStock()
const { data: recipes, error: recipeError } = useRecipes()
const tubs = computed(() =>
  (stock.value?.tubs ?? []).filter((t) => t.left_g > 0 && t.lean_pct !== undefined && t.kind !== 'made'),
)
const streams = computed(() => tubs.value.filter((t) => t.kind === 'stream'))
const young = computed(() => streams.value.filter((t) => !t.late))
const old = computed(() => streams.value.filter((t) => t.late))
const cuts = computed(() => tubs.value.filter((t) => t.kind === 'product'))
const withMeat = computed(() => (recipes.value?.recipes ?? []).filter((r) => !r.retired && r.meat_g > 0))
/** Tubs that are in it; at first all trim that is young enough and not frozen. */
const taken = ref<string[]>()
const inIt = computed({
  get: () => taken.value ?? streams.value.filter((t) => !t.late && t.place !== 'frozen').map((t) => t.id),
  set: (v) => (taken.value = v),
})
const wants = reactive<Record<string, { on: boolean; least: string; most: string }>>({})
watch(
  withMeat,
  (list) => {
    for (const r of list) wants[r.id] ??= { on: r.price !== undefined, least: '', most: '' }
  },
  { immediate: true },
)
const goal = ref<'value' | 'cost'>('value')
const whole = ref(false)
const kg = (text: string) => {
  const m = typedMass(text)
  if (!text.trim()) return undefined
  const g = Number(m.number.replace(',', '.'))
  return String(m.unit === 'lb' ? g * 0.45359237 : m.unit === 'g' ? g / 1000 : g)
}
const chosen = computed(() => withMeat.value.filter((r) => wants[r.id]?.on))
const ask = computed<S['BlendAsk']>(() => ({
  tubs: inIt.value.filter((id) => tubs.value.some((t) => t.id === id)),
  cheap: goal.value === 'cost',
  recipes: chosen.value.map((r) => {
    const w = wants[r.id]!
    return {
      recipe: r.id,
      ...(kg(w.least) && { least: kg(w.least)! }),
      ...(kg(w.most) && { most: kg(w.most)! }),
    }
  }),
}))
const ready = computed(() => ask.value.tubs.length > 0 && ask.value.recipes.length > 0)
const {
  data: blend,
  error,
  isFetching,
} = useQuery({
  queryKey: computed(() => keyOf('blend', ask.value)),
  enabled: ready,
  placeholderData: (old) => old,
  retry: false,
  queryFn: () => data(POST('/blend', { body: ask.value })),
})
const problem = computed<Problem | undefined>(() => (error.value ? asProblem(error.value) : undefined))
const fault = (i: number, f: string) => problem.value?.at(`recipes[${i}].${f}`) ?? ''
const wantFault = (id: string) => {
  const i = chosen.value.findIndex((r) => r.id === id)
  return i < 0 ? '' : fault(i, 'least') || fault(i, 'most') || fault(i, 'recipe')
}
const answer = computed(() => (error.value || !ready.value ? undefined : blend.value))
const sentence = computed(() => {
  if (!tubs.value.length) return say('No tub holds anything that could be minced.')
  if (!answer.value) return say('What should the tubs become?')
  if (answer.value.cheap)
    return say`What must be made takes ${money(-Number(answer.value.gain))} of what the tubs are worth.`
  return say`Made so, the tubs bring ${money(answer.value.value)}: ${money(answer.value.gain)} more than as they are.`
})

const { busy, attempt, problem: failed } = useAttempt()
const begin = (recipe: string) =>
  attempt(async () => {
    const plan = Object.fromEntries(
      (answer.value?.use ?? []).filter((u) => u.recipe === recipe).map((u) => [u.tub, (u.g / 1000).toFixed(3)]),
    )
    const id = await beginMaking(recipe, plan)
    await queries.invalidateQueries({ queryKey: keyOf('makings') })
    await router.push({ name: 'making', params: { making: id } })
  })
const value = (byUse: boolean) =>
  attempt(async () => {
    await data(PUT('/blend/value', { body: { by_use: byUse } }))
    await refresh(queries, 'shop', ...pricedBy)
    done(byUse ? say('Trim is valued by what it becomes.') : say('Trim is valued at its price again.'), () =>
      value(!byUse),
    )
  })
</script>

<template>
  <section class="page">
    <div class="spread">
      <h1 class="sentence" data-test="blend-sentence">{{ sentence }}</h1>
      <RouterLink :to="{ name: 'recipes' }">Recipes</RouterLink>
    </div>
    <StateNote :error="stockError ?? recipeError" :loading="isLoading" what="the tubs" @retry="refetch()" />
    <p v-if="stock && !stock.from">
      Nothing is kept in stock yet. <RouterLink :to="{ name: 'stock' }">Begin the stock</RouterLink>; then every kilo of
      trim that is cut lies in a tub here.
    </p>
    <p v-if="recipes && !withMeat.length">
      There is no recipe with meat yet. <RouterLink :to="{ name: 'recipes' }">Write one</RouterLink>: plain mince needs
      no more than a name and a price.
    </p>
    <form
      v-if="stock?.from && withMeat.length"
      class="asks no-print"
      novalidate
      aria-label="What is asked"
      @submit.prevent
    >
      <fieldset>
        <legend>From these tubs</legend>
        <TubTick v-for="t in young" :key="t.id" v-model="inIt" :tub="t" />
        <details v-if="old.length">
          <summary class="small">{{ counted(old.length, 'tub') }} past the day until which it may be minced</summary>
          <TubTick v-for="t in old" :key="t.id" v-model="inIt" :tub="t" />
        </details>
        <label v-if="cuts.length" class="tick"
          ><input v-model="whole" type="checkbox" /> Would whole muscle pay in it?</label
        >
        <template v-if="whole"><TubTick v-for="t in cuts" :key="t.id" v-model="inIt" :tub="t" /></template>
        <p v-if="problem?.at('tubs')" class="fault" role="alert">{{ problem.at('tubs') }}</p>
      </fieldset>
      <fieldset>
        <legend>Into</legend>
        <UnitToggle
          v-model="goal"
          :options="['value', 'cost']"
          :names="{ value: say('Bring the most'), cost: say('Cost least') }"
          label="What for"
        />
        <div v-for="r in withMeat" :key="r.id" class="want">
          <label class="tick"
            ><input v-model="wants[r.id]!.on" type="checkbox" /> <strong>{{ r.name }}</strong></label
          >
          <label class="small"
            >at least
            <InputText
              v-model.lazy="wants[r.id]!.least"
              inputmode="decimal"
              :aria-label="say`Least of ${r.name}, kg`"
              :invalid="!!wantFault(r.id)"
          /></label>
          <label v-if="goal === 'value'" class="small"
            >at most
            <InputText v-model.lazy="wants[r.id]!.most" inputmode="decimal" :aria-label="say`Most of ${r.name}, kg`"
          /></label>
          <span class="small">kg</span>
          <p v-if="wantFault(r.id)" class="fault" role="alert">{{ wantFault(r.id) }}</p>
        </div>
      </fieldset>
    </form>
    <p v-if="problem && !problem.errors.length" class="fault" role="alert">{{ problem.message }}</p>
    <p v-if="failed" class="fault" role="alert">{{ failed.message }}</p>
    <BlendAnswer
      v-if="answer"
      :blend="answer"
      :busy="busy || isFetching"
      :may-begin="may('POST /makings')"
      @begin="begin"
    />
    <p v-if="answer && !answer.cheap && may('PUT /blend/value')" class="row no-print">
      <template v-if="shop?.trim_by_use"
        >Comparisons value trim by what it becomes.
        <PvButton severity="secondary" label="At its price again" :loading="busy" @click="value(false)"
      /></template>
      <template v-else
        >Comparisons value trim at its price.
        <PvButton
          severity="secondary"
          label="Value it by what it becomes"
          :loading="busy"
          data-test="by-use"
          @click="value(true)"
      /></template>
    </p>
    <MakingsList v-if="stock?.from" />
  </section>
</template>

<style scoped>
.asks {
  display: grid;
  grid-template-columns: 1fr 1.1fr;
  gap: 24px;
  margin: 14px 0;
  align-items: start;
}
fieldset {
  border: 1px solid var(--hairline);
  padding: 8px 14px 12px;
  min-width: 0;
}
.tick {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
}
summary {
  min-height: 44px;
  padding-top: 12px;
  cursor: pointer;
}
.want {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 12px;
}
.want .tick {
  flex: 1 1 180px;
}
.want :deep(input.p-inputtext) {
  width: 76px;
}
@media (max-width: 900px) {
  .asks {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
