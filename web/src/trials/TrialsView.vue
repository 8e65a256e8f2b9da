<script setup lang="ts">
// All trials, and the design of another: pairs of one lot, one of each cut one way.
import { computed, reactive, ref, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import FormField from '../components/FormField.vue'
import MoreRows from '../components/MoreRows.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET, POST } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { usePages } from '../api/usePages'
import { usePlans } from '../plans/usePlans'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import PickOne from '../components/PickOne.vue'
import { useRail, type Card } from '../stages/rail/useRail'
import { say } from '../words/say'

const router = useRouter()
const queries = useQueryClient()
const { may } = useMe()
const { shop, mass, money } = useShop()
const {
  data: list,
  error,
  isLoading,
  refetch,
  hasNextPage,
  isFetchingNextPage,
  fetchNextPage,
} = usePages(
  keyOf('trials'),
  (query) => data(GET('/trials', { params: { query } })),
  (page) => page.trials,
)
const { data: rail } = useRail()
/** Lots that hold two or more pieces of a kind that are not cut yet. */
const lots = computed(() => {
  const out = new Map<string, Card[]>()
  for (const c of rail.value ?? [])
    if (!c.carcass && !c.breakdown_id && (c.stage === 'plan' || c.stage === 'bench'))
      out.set(`${c.lot_id} ${c.atlas_id}`, [...(out.get(`${c.lot_id} ${c.atlas_id}`) ?? []), c])
  return [...out.entries()]
    .filter(([, cards]) => cards.length > 1)
    .map(([key, cards]) => ({ key, cards: [...cards].sort((a, b) => a.number - b.number) }))
})
const chosen = ref<string[]>([])
const kind = computed(() => lots.value.find((l) => l.key === chosen.value[0])?.cards[0]?.atlas_id ?? '')
const pairs = computed(() =>
  lots.value
    .filter((l) => chosen.value.includes(l.key))
    .flatMap((l) =>
      l.cards
        .slice(0, l.cards.length - (l.cards.length % 2))
        .flatMap((c, i) => (i % 2 ? [] : [{ one: c, other: l.cards[i + 1]! }])),
    ),
)
const { data: plans } = usePlans(() => kind.value || undefined)
const form = reactive({ name: '', a: 'traditional', b: '', difference: '0.50' })
watch(plans, (p) => {
  if (p && !p.plans.some((x) => x.plan.id === form.b))
    form.b = p.plans.find((x) => x.plan.id !== 'traditional')?.plan.id ?? ''
})
const difference = computed(() => Number(form.difference.replace(',', '.')))
const { data: needed } = useQuery({
  queryKey: computed(() => keyOf('trials-needed', kind.value, difference.value, form.a, form.b)),
  enabled: () => !!kind.value && difference.value > 0,
  queryFn: () =>
    data(
      GET('/trials/needed', {
        params: { query: { atlas_id: kind.value, difference: difference.value, plan_a: form.a, plan_b: form.b } },
      }),
    ),
})
type Needed = NonNullable<typeof needed.value>
const scatter = (n: Needed) =>
  n.trial
    ? say`the ${n.past} pairs of “${n.trial}” differ by ${money(n.sd)}`
    : say`the gains of ${n.past} pieces, each plan’s by itself, scatter by ${money(n.sd)}`
const { busy, problem, attempt } = useAttempt()
const fault = (f: string) => problem.value?.at(f) ?? ''
const design = () =>
  attempt(async () => {
    const t = await data(
      POST('/trials', {
        body: {
          name: form.name,
          atlas_id: kind.value,
          plan_a: form.a,
          plan_b: form.b,
          pairs: pairs.value.map((p) => ({ one: p.one.id, other: p.other.id })),
        },
      }),
    )
    await queries.invalidateQueries()
    await router.push({ name: 'trial', params: { trial: t.id } })
  })
</script>

<template>
  <section>
    <h1 class="sentence">
      {{
        list?.length
          ? say('Trials: side-by-side tests Two sides of a carcass, one cut each way, tell.')
          : say('Trials: side-by-side tests Cut the two sides of a carcass each another way, and find out.')
      }}
    </h1>
    <StateNote :error="error" :loading="isLoading" what="the trials" @retry="refetch()" />
    <table v-if="list?.length" v-wide class="list">
      <thead>
        <tr>
          <th>Trial</th>
          <th>Piece</th>
          <th>State</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in list" :key="t.id">
          <td>
            <RouterLink :to="{ name: 'trial', params: { trial: t.id } }"
              ><strong>{{ t.name }}</strong></RouterLink
            >
          </td>
          <td>{{ t.piece }}</td>
          <td>
            {{ t.state }} <span v-if="t.reason" class="small">{{ t.reason }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <MoreRows :more="hasNextPage" :busy="isFetchingNextPage" @more="fetchNextPage()" />
    <form v-if="may('POST /trials')" class="design" novalidate aria-label="Design a trial" @submit.prevent="design">
      <h2>Design a trial</h2>
      <p v-if="!lots.length" class="small">
        No lot has two pieces of a kind that are not cut yet. Receive both sides of a carcass as one lot.
      </p>
      <fieldset v-else>
        <legend class="label">Lots whose pieces are left and right, two by two</legend>
        <label v-for="l in lots" :key="l.key" class="lot" :class="{ off: kind && l.cards[0]!.atlas_id !== kind }"
          ><input
            v-model="chosen"
            type="checkbox"
            :value="l.key"
            :disabled="!!kind && l.cards[0]!.atlas_id !== kind"
            :data-lot="l.cards[0]!.lot_number"
          />
          <strong>{{ l.cards[0]!.lot_number }}</strong> {{ l.cards[0]!.name }},
          {{ l.cards.map((c) => mass(c.weight_g, 2)).join(', ') }}</label
        >
      </fieldset>
      <template v-if="kind && plans">
        <div class="fields">
          <FormField id="tr-name" label="Name" :fault="fault('name')"
            ><InputText id="tr-name" v-model="form.name" maxlength="80" :invalid="!!fault('name')" autocomplete="off"
          /></FormField>
          <FormField id="tr-a" label="One way" :fault="fault('plan_a')"
            ><PickOne id="tr-a" v-model="form.a" :options="plans.plans" by="plan.id" called="plan.name"
          /></FormField>
          <FormField id="tr-b" label="The other" :fault="fault('plan_b')"
            ><PickOne id="tr-b" v-model="form.b" :options="plans.plans" by="plan.id" called="plan.name"
          /></FormField>
          <FormField id="tr-d" :label="say`A difference that would matter, ${shop?.currency} a kg`"
            ><InputText id="tr-d" v-model="form.difference" inputmode="decimal" autocomplete="off"
          /></FormField>
        </div>
        <p v-if="needed" data-test="needed">
          {{
            needed.needed
              ? say`To find ${money(difference)} a kilo it takes about ${needed.needed} pairs; ${scatter(needed)}.`
              : needed.past < 3
                ? say`Only ${needed.past} pieces of this kind are closed: too few to say how many pairs it takes.`
                : say`No number of pairs would find so small a difference.`
          }}
        </p>
        <p>
          <strong>{{ pairs.length }} {{ pairs.length === 1 ? say('pair') : say('pairs') }}.</strong> Which side gets
          which cut is drawn by the program; the pieces are planned so.
        </p>
        <PvButton type="submit" label="Draw and plan" :disabled="!pairs.length" :loading="busy" data-test="design" />
        <p v-if="problem && problem.rest(['name', 'plan_a', 'plan_b'])" class="fault" role="alert">
          {{ problem.rest(['name', 'plan_a', 'plan_b']) }}
        </p>
      </template>
    </form>
  </section>
</template>

<style scoped>
.list {
  margin: 16px 0 8px;
}
.list td {
  padding: 12px 8px;
}
.design {
  border-top: 4px solid var(--ink);
  margin-top: 24px;
  padding-top: 10px;
  display: flex;
  flex-direction: column;
  gap: 14px;
  align-items: flex-start;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
}
.lot {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 48px;
  flex-wrap: wrap;
}
.lot.off {
  color: var(--ink-2);
}
.lot input {
  width: 24px;
  height: 24px;
  accent-color: var(--act);
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(240px, 1fr));
  gap: 14px;
  width: 100%;
}
</style>
