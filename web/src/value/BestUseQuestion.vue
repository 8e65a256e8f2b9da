<script setup lang="ts">
// What there is for the day: bench minutes, days to sell it, and orders that must be met.
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import type { Problem } from '../api/problem'
import { useNeeds } from '../orders/useOrders'
import { useShop } from '../shell/shop'
import { useBook } from './useBook'
import type { BestQuestion } from './useBestUse'
import { say } from '../words/say'

const props = defineProps<{ problem?: Problem; busy: boolean }>()
const form = defineModel<BestQuestion>({ required: true })
const emit = defineEmits<{ ask: [] }>()
const { unit } = useShop()
const { prices, markets } = useBook()
const { data: needs } = useNeeds()
const fault = (f: string) => props.problem?.at(f) ?? ''
/** Orders are asked for where they are whole: the fault's place is that among these. */
const orderFault = (i: number) => {
  const whole = form.value.orders.filter((o) => o.product_key && o.weight.trim())
  const at = whole.indexOf(form.value.orders[i]!)
  return at < 0 ? '' : fault(`orders[${at}].weight`) || fault(`orders[${at}].product_key`)
}
</script>

<template>
  <form class="ask no-print" novalidate aria-label="What there is" @submit.prevent="emit('ask')">
    <FormField id="bu-minutes" label="Bench minutes" :fault="fault('minutes')" hint="Empty: no limit."
      ><InputText
        id="bu-minutes"
        v-model="form.minutes"
        inputmode="decimal"
        :invalid="!!fault('minutes')"
        autocomplete="off"
    /></FormField>
    <FormField id="bu-days" label="To be sold in, days" :fault="fault('days')" hint="A week’s demand counts by them."
      ><InputText id="bu-days" v-model="form.days" inputmode="numeric" :invalid="!!fault('days')" autocomplete="off"
    /></FormField>
    <FormField v-if="markets?.length" id="bu-market" label="Prices of" :fault="fault('market')"
      ><PickOne
        id="bu-market"
        v-model="form.market"
        :options="markets.filter((x) => !x.main && x.active)"
        :none="markets.find((m) => m.main)?.name"
    /></FormField>
    <label class="wait"><input v-model="form.wait" type="checkbox" /> pieces may wait for another day</label>
    <label v-if="needs?.length" class="wait"
      ><input v-model="form.open" type="checkbox" data-test="open-orders" /> meet open orders</label
    >
    <div class="orders">
      <p class="label">Orders that must be met</p>
      <div v-for="(o, i) in form.orders" :key="i" class="order">
        <PickOne
          v-model="o.product_key"
          :label="say`Product of order ${i + 1}`"
          :options="prices"
          by="key"
          none="choose a product"
        /><input
          v-model="o.weight"
          class="short"
          inputmode="decimal"
          :aria-label="say`Weight of order ${i + 1}`"
          :aria-invalid="!!orderFault(i)"
        />
        {{ o.unit }} <PvButton text label="Remove" @click="form.orders.splice(i, 1)" /><span
          v-if="orderFault(i)"
          class="fault"
          role="alert"
          >{{ orderFault(i) }}</span
        >
      </div>
      <PvButton text label="Add an order" @click="form.orders.push({ product_key: '', weight: '', unit })" />
    </div>
    <div class="go">
      <PvButton type="submit" severity="secondary" label="Ask again" :loading="busy" data-test="solve" />
    </div>
  </form>
</template>

<style scoped>
.ask {
  display: grid;
  grid-template-columns: repeat(4, minmax(0, 210px));
  gap: 12px 20px;
  align-items: start;
}
.orders,
.go {
  grid-column: 1 / -1;
}
.wait {
  display: flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
  align-self: end;
  margin-bottom: 22px;
}
.order {
  display: flex;
  gap: 8px;
  align-items: center;
  flex-wrap: wrap;
  margin-bottom: 6px;
}
.label {
  margin: 0 0 6px;
}
.short {
  font: inherit;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  max-width: 320px;
  width: 100%;
}
.short {
  width: 84px;
  text-align: right;
  padding: 0 8px;
}
@media (max-width: 1000px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
  .ask {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
