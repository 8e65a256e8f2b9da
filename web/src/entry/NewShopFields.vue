<script setup lang="ts">
// The fields of a new shop, for the first one and for another.
import InputText from 'primevue/inputtext'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { timeZones, zoneHere } from '../shell/zones'
import { marketName } from '../words/markets'
import type { useNewShop } from './useNewShop'
import { say } from '../words/say'

defineProps<{ markets: string[]; fault: (field: string) => string }>()
const shop = defineModel<ReturnType<typeof useNewShop>['form']>({ required: true })
const zones = timeZones(zoneHere())
const countryName = (m: string) => (m === 'house' ? say('another country, our own names') : marketName(m))
</script>

<template>
  <FormField id="name" label="Name of the shop" :fault="fault('name')"
    ><InputText id="name" v-model="shop.name" autofocus autocomplete="organization" :invalid="!!fault('name')"
  /></FormField>
  <FormField
    id="market"
    label="Country"
    hint="Whose names for cuts you use, and what is filled in below"
    :fault="fault('market')"
    ><PickOne id="market" v-model="shop.market" :options="markets" :called="countryName"
  /></FormField>
  <div class="three">
    <FormField id="currency" label="Currency" :fault="fault('currency')"
      ><InputText id="currency" v-model="shop.currency" maxlength="3" autocomplete="off" :invalid="!!fault('currency')"
    /></FormField>
    <FormField id="unit" label="Weighs in" :fault="fault('weight_unit')"
      ><UnitToggle v-model="shop.weight_unit" :options="['kg', 'lb']" label="Weighs in"
    /></FormField>
    <FormField id="tax" label="Tax on meat, %" :fault="fault('tax_pct')"
      ><InputText id="tax" v-model="shop.tax" inputmode="decimal" autocomplete="off" :invalid="!!fault('tax_pct')"
    /></FormField>
  </div>
  <div class="three costs">
    <FormField id="labour" label="An hour of work costs" :fault="fault('labour_rate')"
      ><InputText
        id="labour"
        v-model="shop.labour_rate"
        inputmode="decimal"
        autocomplete="off"
        :invalid="!!fault('labour_rate')"
    /></FormField>
    <FormField id="packaging" label="Packaging, a kilogram" :fault="fault('packaging_per_kg')"
      ><InputText
        id="packaging"
        v-model="shop.packaging_per_kg"
        inputmode="decimal"
        autocomplete="off"
        :invalid="!!fault('packaging_per_kg')"
    /></FormField>
    <FormField id="discard" label="Waste, a kilogram" :fault="fault('discard_per_kg')"
      ><InputText
        id="discard"
        v-model="shop.discard_per_kg"
        inputmode="decimal"
        autocomplete="off"
        :invalid="!!fault('discard_per_kg')"
    /></FormField>
  </div>
  <p class="small">
    These are filled in with what is usual there, from memory and without tax: change them to yours. Prices are entered
    without tax too; the price book shows both.
  </p>
  <FormField id="zone" label="Time zone" hint="Days, weeks, seasons and ages go by it" :fault="fault('time_zone')"
    ><PickOne id="zone" v-model="shop.time_zone" :options="zones"
  /></FormField>
  <FormField id="benches" label="Benches" hint="Separated by commas" :fault="fault('benches')"
    ><InputText id="benches" v-model="shop.benches" autocomplete="off" :invalid="!!fault('benches')"
  /></FormField>
</template>

<style scoped>
.three {
  display: grid;
  grid-template-columns: 1fr auto 1fr;
  gap: 14px;
  align-items: start;
}
.three.costs {
  grid-template-columns: 1fr 1fr 1fr;
}
@media (max-width: 560px) {
  .three {
    grid-template-columns: 1fr;
  }
}
</style>
