<script setup lang="ts">
// What an owner sets for the shop; everybody else reads it.
import { computed, reactive, ref, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import OnlyHere from '../components/OnlyHere.vue'
import FormField from '../components/FormField.vue'
import { typedNumber } from '../words/typed'
import UnitToggle from '../components/UnitToggle.vue'
import { data, PUT } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useLeaveGuard } from '../feedback/useLeaveGuard'
import { useMe } from '../shell/me'
import { marketName } from '../words/markets'
import { useShop } from '../shell/shop'
import { plainDay } from '../words/shown'
import { timeZones } from '../shell/zones'
import PickOne from '../components/PickOne.vue'
import SeasonsField from './SeasonsField.vue'
import AddShop from './AddShop.vue'
import { say } from '../words/say'

const queries = useQueryClient()
const { may } = useMe()
const { shop } = useShop()
const { busy, problem, attempt } = useAttempt()
const form = reactive({
  name: '',
  market: '',
  currency: '',
  time_zone: '',
  weight_unit: 'kg',
  labour_rate: '',
  packaging_per_kg: '',
  discard_per_kg: '',
  roles: {} as Record<string, string>,
  seasons: [] as { name: string; from: string; to: string }[],
  knife: '',
  saw: '',
  division: '',
  idle: '',
  check: '',
  lot_prefix: '',
  address: '',
  version: 0,
})
const { done } = useFeedback()
const currency = computed(() => shop.value?.currency ?? '')
const roles = computed(() => shop.value?.roles ?? [])
const zones = computed(() => timeZones(form.time_zone))
const own = computed(() => may('PUT /shop'))

function take() {
  const s = shop.value
  if (!s) return
  Object.assign(form, {
    name: s.name,
    market: s.market,
    currency: s.currency,
    time_zone: s.time_zone,
    weight_unit: s.weight_unit,
    labour_rate: s.labour_rate,
    packaging_per_kg: s.packaging_per_kg,
    discard_per_kg: s.discard_per_kg,
    roles: { ...s.labour_by_role },
    seasons: s.seasons.map((x) => ({ ...x })),
    knife: String(s.loss_limit_knife_pct),
    saw: String(s.loss_limit_saw_pct),
    division: String(s.division_g),
    idle: String(s.idle_minutes),
    check: String(s.scale_check_days),
    lot_prefix: s.lot_prefix,
    address: s.address,
    version: s.version,
  })
  taken.value = JSON.stringify(form)
}
/** As it was read or saved last. */
const taken = ref('')
useLeaveGuard(() => taken.value !== '' && JSON.stringify(form) !== taken.value)
watch(() => shop.value?.version, take, { immediate: true })
watch(form, () => {
  problem.value = undefined
})

const fields = [
  'name',
  'market',
  'currency',
  'time_zone',
  'weight_unit',
  'labour_rate',
  'packaging_per_kg',
  'discard_per_kg',
  'loss_limit_knife_pct',
  'loss_limit_saw_pct',
  'division_g',
  'idle_minutes',
  'scale_check_days',
  'lot_prefix',
  'address',
]
const fault = (f: string) => problem.value?.at(f) ?? ''
const shownFields = computed(() => [
  ...fields,
  'seasons',
  ...Object.keys(form.roles).map((r) => `labour_by_role.${r}`),
  ...form.seasons.flatMap((_, i) => ['name', 'from', 'to'].map((f) => `seasons[${i}].${f}`)),
])
const save = () =>
  attempt(async () => {
    const s = await data(
      PUT('/shop', {
        body: {
          name: form.name,
          market: form.market,
          currency: form.currency.trim().toUpperCase(),
          time_zone: form.time_zone,
          weight_unit: form.weight_unit,
          labour_rate: form.labour_rate,
          packaging_per_kg: form.packaging_per_kg,
          discard_per_kg: form.discard_per_kg,
          labour_by_role: form.roles,
          seasons: form.seasons,
          loss_limit_knife_pct: typedNumber(form.knife),
          loss_limit_saw_pct: typedNumber(form.saw),
          division_g: typedNumber(form.division),
          idle_minutes: Math.round(typedNumber(form.idle)),
          scale_check_days: Math.round(typedNumber(form.check)),
          lot_prefix: form.lot_prefix,
          address: form.address,
          version: form.version,
        },
      }),
    )
    queries.setQueryData(keyOf('shop'), s)
    await queries.invalidateQueries()
    take()
    done(say('Settings saved.'))
  })
async function again() {
  await queries.invalidateQueries({ queryKey: keyOf('shop') })
  take()
}
</script>

<template>
  <form v-if="shop" class="lay" novalidate aria-label="Settings of the shop" @submit.prevent="save">
    <fieldset :disabled="!own || busy">
      <h2>The shop</h2>
      <FormField id="name" label="Name" :fault="fault('name')"
        ><InputText id="name" v-model="form.name" :invalid="!!fault('name')" autocomplete="off"
      /></FormField>
      <FormField id="market" label="Names of cuts as in" :fault="fault('market')"
        ><PickOne id="market" v-model="form.market" :options="shop.markets" :called="marketName"
      /></FormField>
      <div class="two">
        <FormField id="unit" label="Weighs in" :fault="fault('weight_unit')"
          ><UnitToggle v-model="form.weight_unit" :options="['kg', 'lb']" label="Weighs in"
        /></FormField>
        <FormField
          id="currency"
          label="Currency"
          :fault="fault('currency')"
          :hint="shop.currency_fixed ? say('Cannot be changed: prices or lots exist in it.') : ''"
          ><InputText
            id="currency"
            v-model="form.currency"
            maxlength="3"
            :readonly="shop.currency_fixed"
            :invalid="!!fault('currency')"
            autocomplete="off"
        /></FormField>
      </div>
      <FormField
        id="zone"
        label="Time zone"
        :fault="fault('time_zone')"
        :hint="say`It is ${plainDay(shop.today)} by the shop’s clock. Days, weeks, seasons and ages go by it.`"
        ><PickOne id="zone" v-model="form.time_zone" :options="zones"
      /></FormField>
      <FormField
        id="prefix"
        label="Lot numbers begin with"
        :fault="fault('lot_prefix')"
        :hint="say`The next one is ${shop.next_lot_number}`"
        ><InputText
          id="prefix"
          v-model="form.lot_prefix"
          maxlength="12"
          :invalid="!!fault('lot_prefix')"
          autocomplete="off"
      /></FormField>
      <FormField
        id="address"
        label="Address for phones and other screens"
        :fault="fault('address')"
        hint="Links and codes carry it. Empty, they carry the one that this browser shows"
        ><InputText
          id="address"
          v-model="form.address"
          type="url"
          placeholder="http://192.168.1.20:8087"
          :invalid="!!fault('address')"
          autocomplete="off"
      /></FormField>
      <OnlyHere />
      <SeasonsField v-model="form.seasons" :fault="fault" :own="own" />
    </fieldset>
    <fieldset :disabled="!own || busy">
      <h2>What work costs</h2>
      <FormField id="labour" :label="say`Labour, ${currency} per hour`" :fault="fault('labour_rate')"
        ><InputText
          id="labour"
          v-model="form.labour_rate"
          inputmode="decimal"
          :invalid="!!fault('labour_rate')"
          autocomplete="off"
      /></FormField>
      <FormField id="packaging" :label="say`Packaging, ${currency} a kg sold`" :fault="fault('packaging_per_kg')"
        ><InputText
          id="packaging"
          v-model="form.packaging_per_kg"
          inputmode="decimal"
          :invalid="!!fault('packaging_per_kg')"
          autocomplete="off"
      /></FormField>
      <FormField id="discard" :label="say`Getting rid of waste, ${currency} a kg`" :fault="fault('discard_per_kg')"
        ><InputText
          id="discard"
          v-model="form.discard_per_kg"
          inputmode="decimal"
          :invalid="!!fault('discard_per_kg')"
          autocomplete="off"
      /></FormField>
      <div>
        <p class="label">Labour by who cuts, where it differs</p>
        <div class="roles">
          <label
            v-for="r in roles.filter((x) => ['owner', 'head_cutter', 'cutter', 'apprentice'].includes(x.id))"
            :key="r.id"
            >{{ r.name }}
            <input
              v-model="form.roles[r.id]"
              inputmode="decimal"
              :placeholder="form.labour_rate"
              :aria-label="say`Labour of ${r.name} per hour`"
              :aria-invalid="!!fault(`labour_by_role.${r.id}`)"
          /></label>
        </div>
        <p v-for="r in roles" v-show="fault(`labour_by_role.${r.id}`)" :key="r.id" class="fault" role="alert">
          {{ r.name }}: {{ fault(`labour_by_role.${r.id}`) }}
        </p>
      </div>
      <p class="small">Finished pieces keep the rates of their day.</p>
      <h2 class="gap">What counts as balanced</h2>
      <div class="two">
        <FormField id="knife" label="Loss by knife, % at most" :fault="fault('loss_limit_knife_pct')"
          ><InputText
            id="knife"
            v-model="form.knife"
            inputmode="decimal"
            :invalid="!!fault('loss_limit_knife_pct')"
            autocomplete="off"
        /></FormField>
        <FormField id="saw" label="Loss by saw, % at most" :fault="fault('loss_limit_saw_pct')"
          ><InputText
            id="saw"
            v-model="form.saw"
            inputmode="decimal"
            :invalid="!!fault('loss_limit_saw_pct')"
            autocomplete="off"
        /></FormField>
      </div>
      <FormField
        id="division"
        label="Scale division for typed weights, g"
        :fault="fault('division_g')"
        hint="A connected scale tells its own."
        ><InputText
          id="division"
          v-model="form.division"
          inputmode="decimal"
          :invalid="!!fault('division_g')"
          autocomplete="off"
      /></FormField>
      <FormField
        id="idle"
        label="A bench’s clock stops when nobody touched it for so many minutes"
        :fault="fault('idle_minutes')"
        hint="0: it never stops by itself."
        ><InputText
          id="idle"
          v-model="form.idle"
          inputmode="numeric"
          :invalid="!!fault('idle_minutes')"
          autocomplete="off"
      /></FormField>
      <FormField
        id="check"
        label="A scale is to be checked with a test weight after so many days"
        :fault="fault('scale_check_days')"
        hint="0: nobody is reminded."
        ><InputText
          id="check"
          v-model="form.check"
          inputmode="numeric"
          :invalid="!!fault('scale_check_days')"
          autocomplete="off"
      /></FormField>
    </fieldset>
    <div class="save">
      <p v-if="problem?.rest(shownFields)" class="fault" role="alert">
        {{ problem.rest(shownFields) }}
        <PvButton
          v-if="problem.status === 409 && problem.errors.length === 0"
          text
          label="Load it again"
          @click="again"
        />
      </p>
      <div v-if="own" class="row">
        <PvButton type="submit" label="Save" :loading="busy" />
      </div>
      <p v-else class="small">An owner of the shop can change these.</p>
    </div>
  </form>
  <AddShop v-if="may('POST /shops')" />
</template>

<style scoped>
.lay {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 20px 56px;
  max-width: 980px;
  align-items: start;
}
fieldset {
  border: 0;
  padding: 0;
  margin: 0;
  min-width: 0;
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px;
  align-items: start;
}
.roles {
  display: flex;
  gap: 8px 14px;
  flex-wrap: wrap;
  align-items: center;
  margin-bottom: 6px;
}
.roles label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.roles input {
  font: inherit;
  min-height: 44px;
  width: 84px;
  padding: 0 8px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
}
.label {
  margin: 0 0 6px;
}
.save {
  grid-column: 1 / -1;
}
.gap {
  margin-top: 14px;
}
@media (max-width: 800px) {
  .lay {
    grid-template-columns: 1fr;
  }
}
</style>
