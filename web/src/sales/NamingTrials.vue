<script setup lang="ts">
// The same cut under two names, or at two prices, that take turns week by week: which sells faster.
import { computed, reactive, ref } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import DayPick from '../components/DayPick.vue'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useOrderProducts } from '../orders/useOrders'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { plainDay } from '../words/shown'
import { dayOr, typedCount } from '../words/typed'

const props = defineProps<{
  trials: S['NamingTrial'][]
  products: S['SoldProduct'][]
  may: boolean
  begin: (t: S['NewNaming']) => Promise<void>
  stop: (trial: string) => Promise<void>
}>()
const { money } = useShop()
const { done, ask } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const { data: all } = useOrderProducts()
const open = ref(false)
const blank = () => ({ key: '', a: '', b: '', priceA: '', priceB: '', begins: '', weeks: '4' })
const form = reactive(blank())
const choices = computed(() => (all.value ?? []).map((p) => ({ id: p.key, name: `${p.name}, ${p.species}` })))
const fields = ['product_key', 'name_a', 'name_b', 'price_a', 'price_b', 'begins', 'weeks']
const fault = (f: string) => problem.value?.at(f) ?? ''
const start = () =>
  attempt(async () => {
    await props.begin({
      product_key: form.key,
      name_a: form.a,
      name_b: form.b,
      ...(form.priceA.trim() && { price_a: form.priceA }),
      ...(form.priceB.trim() && { price_b: form.priceB }),
      begins: dayOr(form.begins),
      weeks: typedCount(form.weeks),
    })
    done(say('The trial stands; labels and tickets take turns by week.'))
    Object.assign(form, blank())
    open.value = false
  })
const end = async (t: S['NamingTrial']) => {
  const says = say`${t.name_a} against ${t.name_b} ends today; what was sold until now counts.`
  if (!(await ask({ title: say('Stop this trial?'), text: says, yes: say('Stop it') }))) return
  await attempt(async () => {
    await props.stop(t.id)
    done(say('The trial is stopped.'))
  })
}
const times = (t: S['NamingTrial']) =>
  t.ratio === undefined ? '' : say`${t.ratio.toFixed(2)} times as fast (${limit(t.low)} to ${limit(t.high)})`
const limit = (v?: number) => (v === undefined ? 'any' : v.toFixed(2))
const verdicts = {
  more: (t: S['NamingTrial']) => say`“${t.name_a}” sells faster than “${t.name_b}”: ${times(t)}.`,
  less: (t: S['NamingTrial']) => say`“${t.name_b}” sells faster than “${t.name_a}”, which sells ${times(t)}.`,
  alike: (t: S['NamingTrial']) => say`“${t.name_a}” and “${t.name_b}” sell alike: ${times(t)}.`,
  early: (t: S['NamingTrial']) =>
    t.ratio === undefined
      ? say`“${t.name_a}” against “${t.name_b}”: too early to tell.`
      : say`“${t.name_a}” against “${t.name_b}”: too early to tell; so far ${times(t)}.`,
}
const states = { ahead: say('begins'), running: say('since'), over: say('over, from'), stopped: say('stopped, from') }
</script>

<template>
  <section class="naming">
    <div class="spread">
      <h2>Trials of names and prices</h2>
      <PvButton v-if="may && !open" text label="Begin one" data-test="naming-open" @click="open = true" />
    </div>
    <p v-if="!trials.length && !open" class="small">
      The same cut under two names, or at two prices, in weeks that take turns: which sells faster?
    </p>
    <form v-if="open" class="fields" novalidate aria-label="A trial of names" @submit.prevent="start">
      <FormField id="naming-product" label="The cut" :fault="fault('product_key')"
        ><PickOne id="naming-product" v-model="form.key" :options="choices" none="choose a product"
      /></FormField>
      <FormField id="naming-a" label="First name" :fault="fault('name_a')"
        ><InputText id="naming-a" v-model="form.a" autocomplete="off"
      /></FormField>
      <FormField id="naming-b" label="Second name" :fault="fault('name_b')"
        ><InputText id="naming-b" v-model="form.b" autocomplete="off"
      /></FormField>
      <FormField id="naming-price-a" label="First price, a kg" :fault="fault('price_a')" hint="Empty: today’s for both"
        ><InputText id="naming-price-a" v-model="form.priceA" inputmode="decimal" autocomplete="off"
      /></FormField>
      <FormField id="naming-price-b" label="Second price, a kg" :fault="fault('price_b')"
        ><InputText id="naming-price-b" v-model="form.priceB" inputmode="decimal" autocomplete="off"
      /></FormField>
      <FormField id="naming-begins" label="From Monday" :fault="fault('begins')"
        ><DayPick id="naming-begins" v-model="form.begins" :invalid="!!fault('begins')"
      /></FormField>
      <FormField id="naming-weeks" label="Weeks in all" :fault="fault('weeks')"
        ><InputText id="naming-weeks" v-model="form.weeks" inputmode="numeric" autocomplete="off"
      /></FormField>
      <p v-if="problem?.rest(fields)" class="fault" role="alert">{{ problem.rest(fields) }}</p>
      <div class="row">
        <PvButton type="submit" label="Begin the trial" :loading="busy" data-test="naming-begin" /><PvButton
          text
          label="Leave it"
          @click="open = false"
        />
      </div>
    </form>
    <article v-for="t in trials" :key="t.id" class="trial" data-test="naming-trial">
      <h3>{{ verdicts[t.verdict](t) }}</h3>
      <p class="small">
        {{ t.product }}, {{ states[t.state] }} {{ plainDay(t.begins) }}, {{ counted(t.weeks, 'week') }}. {{ t.name_a }}:
        {{ counted(t.packs_a, 'pack') }} in {{ counted(t.days_a, 'day') }}, {{ money(t.takings_a) }}; {{ t.name_b }}:
        {{ counted(t.packs_b, 'pack') }} in {{ counted(t.days_b, 'day') }}, {{ money(t.takings_b)
        }}<template v-if="t.price_a">; {{ money(t.price_a) }} and {{ money(t.price_b!) }} a kg</template>. p =
        {{ t.p.toFixed(2) }}.
        <strong v-if="t.this_week">This week it is “{{ t.this_week }}”.</strong>
      </p>
      <PvButton
        v-if="may && (t.state === 'running' || t.state === 'ahead')"
        text
        label="Stop"
        :disabled="busy"
        @click="end(t)"
      />
    </article>
    <p v-if="trials.length" class="small">
      Packs on days on which the shop sold anything; exact interval of 95 % by the conditional binomial. One trial
      cannot tell a better name from a better week: let weeks take turns.
    </p>
  </section>
</template>

<style scoped>
.naming {
  margin-top: 26px;
  border-top: 4px solid var(--ink);
  padding-top: 10px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(210px, 1fr));
  gap: 12px;
  align-items: start;
}
.fields .row {
  align-self: end;
}
.trial {
  margin: 12px 0;
}
</style>
