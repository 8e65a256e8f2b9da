<script setup lang="ts">
// The one-time link that a new installation prints: the first shop and its owner.
import { computed, reactive, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { data, GET, POST } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import { timeZones, zoneHere } from '../shell/zones'
import { marketHere, marketName } from '../words/markets'
import { typedNumber } from '../words/typed'
import PickOne from '../components/PickOne.vue'
import EntryFrame from './EntryFrame.vue'

const router = useRouter()
const { changed } = useMe()
const link = window.location.hash.slice(1)
const { busy, problem, attempt } = useAttempt()
const form = reactive({
  name: '',
  market: '',
  currency: '',
  time_zone: zoneHere(),
  weight_unit: 'kg',
  labour_rate: '',
  packaging_per_kg: '',
  discard_per_kg: '',
  tax: '',
  benches: 'North, South',
  owner_name: '',
  owner_email: '',
  owner_password: '',
})
watch(form, () => (problem.value = undefined))
const { data: usual } = useQuery({
  queryKey: ['usual-costs'],
  queryFn: () => data(GET('/set-up')),
  staleTime: Infinity,
})
const markets = computed(() => usual.value?.map((u) => u.market) ?? [])
const countryName = (m: string) => (m === 'house' ? 'another country, our own names' : marketName(m))
watch(markets, (list) => (form.market ||= marketHere(list)), { immediate: true })
/** What is usual there is filled in, to be changed: nothing that costs money is silently nothing. */
watch(
  () => usual.value?.find((u) => u.market === form.market),
  (u) => {
    if (!u) return
    form.currency = u.currency
    form.weight_unit = u.weight_unit
    form.labour_rate = u.labour_rate
    form.packaging_per_kg = u.packaging_per_kg
    form.discard_per_kg = u.discard_per_kg
    form.tax = String(u.tax_pct)
  },
)
const zones = timeZones(zoneHere())
const fields = [
  'name',
  'market',
  'currency',
  'packaging_per_kg',
  'discard_per_kg',
  'tax_pct',
  'time_zone',
  'weight_unit',
  'labour_rate',
  'benches',
  'owner_name',
  'owner_email',
  'owner_password',
  'link',
]
const fault = (f: string) => problem.value?.at(f) ?? ''

const setUp = () =>
  attempt(async () => {
    const benches = form.benches
      .split(',')
      .map((b) => b.trim())
      .filter(Boolean)
    const { tax, ...body } = form
    const tax_pct = tax.trim() ? typedNumber(tax) : 0
    await data(
      POST('/set-up', {
        body: {
          ...body,
          link,
          benches,
          currency: form.currency.trim().toUpperCase(),
          tax_pct: Number.isFinite(tax_pct) ? tax_pct : -1,
        },
      }),
    )
    await changed()
    await router.replace({ name: 'rail' })
  })
</script>

<template>
  <EntryFrame
    title="A shop and its owner"
    says="This is asked once. All but the currency can be changed later; that is fixed once there are prices or lots."
  >
    <form class="stack" novalidate aria-label="Set up" @submit.prevent="setUp">
      <FormField id="name" label="Name of the shop" :fault="fault('name')"
        ><InputText id="name" v-model="form.name" autofocus autocomplete="organization" :invalid="!!fault('name')"
      /></FormField>
      <FormField
        id="market"
        label="Country"
        hint="Whose names for cuts you use, and what is filled in below"
        :fault="fault('market')"
        ><PickOne id="market" v-model="form.market" :options="markets" :called="countryName"
      /></FormField>
      <div class="three">
        <FormField id="currency" label="Currency" :fault="fault('currency')"
          ><InputText
            id="currency"
            v-model="form.currency"
            maxlength="3"
            autocomplete="off"
            :invalid="!!fault('currency')"
        /></FormField>
        <FormField id="unit" label="Weighs in" :fault="fault('weight_unit')"
          ><UnitToggle v-model="form.weight_unit" :options="['kg', 'lb']" label="Weighs in"
        /></FormField>
        <FormField id="tax" label="Tax on meat, %" :fault="fault('tax_pct')"
          ><InputText id="tax" v-model="form.tax" inputmode="decimal" autocomplete="off" :invalid="!!fault('tax_pct')"
        /></FormField>
      </div>
      <div class="three costs">
        <FormField id="labour" label="An hour of work costs" :fault="fault('labour_rate')"
          ><InputText
            id="labour"
            v-model="form.labour_rate"
            inputmode="decimal"
            autocomplete="off"
            :invalid="!!fault('labour_rate')"
        /></FormField>
        <FormField id="packaging" label="Packaging, a kilogram" :fault="fault('packaging_per_kg')"
          ><InputText
            id="packaging"
            v-model="form.packaging_per_kg"
            inputmode="decimal"
            autocomplete="off"
            :invalid="!!fault('packaging_per_kg')"
        /></FormField>
        <FormField id="discard" label="Waste, a kilogram" :fault="fault('discard_per_kg')"
          ><InputText
            id="discard"
            v-model="form.discard_per_kg"
            inputmode="decimal"
            autocomplete="off"
            :invalid="!!fault('discard_per_kg')"
        /></FormField>
      </div>
      <p class="small">
        These are filled in with what is usual there, from memory and without tax: change them to yours. Prices are
        entered without tax too; the price book shows both.
      </p>
      <FormField id="zone" label="Time zone" hint="Days, weeks, seasons and ages go by it" :fault="fault('time_zone')"
        ><PickOne id="zone" v-model="form.time_zone" :options="zones"
      /></FormField>
      <FormField id="benches" label="Benches" hint="Separated by commas" :fault="fault('benches')"
        ><InputText id="benches" v-model="form.benches" autocomplete="off" :invalid="!!fault('benches')"
      /></FormField>
      <h2>The owner</h2>
      <FormField id="owner-name" label="Name" :fault="fault('owner_name')"
        ><InputText id="owner-name" v-model="form.owner_name" autocomplete="name" :invalid="!!fault('owner_name')"
      /></FormField>
      <FormField id="owner-email" label="Address to sign in with" :fault="fault('owner_email')"
        ><InputText
          id="owner-email"
          v-model="form.owner_email"
          type="email"
          autocomplete="username"
          :invalid="!!fault('owner_email')"
      /></FormField>
      <FormField id="owner-password" label="Password" hint="At least 12 characters" :fault="fault('owner_password')"
        ><InputText
          id="owner-password"
          v-model="form.owner_password"
          type="password"
          autocomplete="new-password"
          :invalid="!!fault('owner_password')"
      /></FormField>
      <p v-if="fault('link') || problem?.rest(fields)" class="fault" role="alert">
        {{ fault('link') ? `The link ${fault('link').toLowerCase()}` : problem?.rest(fields) }}
      </p>
      <PvButton type="submit" label="Set it up" :loading="busy" />
    </form>
  </EntryFrame>
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
h2 {
  padding-top: 10px;
}
@media (max-width: 560px) {
  .three {
    grid-template-columns: 1fr;
  }
}
</style>
