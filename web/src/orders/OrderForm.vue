<script setup lang="ts">
// Taking an order, or changing one: who wants what by when, or a whole animal cut to a wish.
import { computed, reactive, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import DayPick from '../components/DayPick.vue'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { refresh } from '../api/keys'
import { useAttempt } from '../api/useAttempt'
import { useShop } from '../shell/shop'
import OrderLines from './OrderLines.vue'
import WholeForm from './WholeForm.vue'
import { emptyOrder, formOf, orderDraft } from './orderDraft'
import { keepOrder, useOrder } from './useOrders'
import { say } from '../words/say'
import { dayHint } from '../words/typed'

const props = defineProps<{ order?: string }>()
const router = useRouter()
const queries = useQueryClient()
const { unit, bare } = useShop()
const { busy, problem, attempt } = useAttempt()
const { data: was, error, refetch } = props.order ? useOrder(() => props.order!) : emptyQuery()
function emptyQuery() {
  return { data: computed(() => undefined), error: computed(() => null), refetch: () => {} }
}
const form = reactive(emptyOrder())
watch(
  was,
  (o, before) => {
    if (o && !before) Object.assign(form, formOf(o, bare))
  },
  { immediate: true },
)
const dueHint = computed(() => dayHint(form.day, say('A day such as 16.11., or +2 for the day after tomorrow')))
const kinds = { products: say('Products'), whole: say('A whole animal') }
const fault = (f: string) => problem.value?.at(f) ?? ''
const rest = computed(() => {
  const known = ['customer', 'day', 'time', 'note']
  const p = problem.value
  if (!p) return ''
  const shown = p.errors.map((e) => e.field).filter((f) => known.includes(f) || /^(lines\[|whole\.)/.test(f))
  return p.rest(shown)
})
const keep = () =>
  attempt(async () => {
    const kept = await keepOrder(orderDraft(form, unit.value, was.value?.version ?? 0), props.order)
    await refresh(queries, 'orders', 'order', 'order-needs', 'day')
    await router.push({ name: 'order', params: { order: kept.id } })
  })
</script>

<template>
  <section class="page">
    <h1 class="sentence">{{ order ? say`Change ${was?.number ?? say('the order')}` : say('Take an order') }}</h1>
    <StateNote v-if="order" :error="error" :loading="!was && !error" what="the order" @retry="refetch()" />
    <form v-if="!order || was" novalidate aria-label="Order" @submit.prevent="keep">
      <div class="head">
        <FormField id="order-customer" label="Customer" :fault="fault('customer')"
          ><InputText id="order-customer" v-model="form.customer" :invalid="!!fault('customer')" autocomplete="off"
        /></FormField>
        <FormField id="order-day" label="Due on" :hint="dueHint" :fault="fault('day')"
          ><DayPick id="order-day" v-model="form.day" :invalid="!!fault('day')"
        /></FormField>
        <FormField id="order-time" label="At" :fault="fault('time')"
          ><InputText id="order-time" v-model="form.time" :invalid="!!fault('time')" autocomplete="off"
        /></FormField>
        <FormField id="order-note" label="Note" :fault="fault('note')"
          ><InputText id="order-note" v-model="form.note" :invalid="!!fault('note')" autocomplete="off"
        /></FormField>
      </div>
      <UnitToggle v-model="form.kind" :options="Object.keys(kinds)" :names="kinds" label="What is ordered" />
      <OrderLines v-if="form.kind === 'products'" v-model="form.lines" :problem="problem" />
      <WholeForm v-else v-model="form" :problem="problem" />
      <p v-if="rest" class="fault" role="alert">{{ rest }}</p>
      <div class="row">
        <PvButton
          type="submit"
          :label="order ? say('Save') : say('Take the order')"
          :loading="busy"
          data-test="keep-order"
        /><RouterLink :to="order ? { name: 'order', params: { order } } : { name: 'orders' }">Cancel</RouterLink>
      </div>
    </form>
  </section>
</template>

<style scoped>
form {
  display: flex;
  flex-direction: column;
  gap: 16px;
  align-items: stretch;
  margin-top: 12px;
}
.head {
  display: grid;
  grid-template-columns: 2fr 1fr 110px 2fr;
  gap: 12px 16px;
  align-items: start;
}
.row a {
  min-height: 44px;
  display: inline-flex;
  align-items: center;
}
@media (max-width: 800px) {
  .head {
    grid-template-columns: 1fr 110px;
  }
  .head > :first-child,
  .head > :last-child {
    grid-column: 1 / -1;
  }
}
</style>
