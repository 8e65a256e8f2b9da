<script setup lang="ts">
// The default prices of what is shown, changed by a percentage: seen before, saved at once, taken back at once.
import { reactive, ref, watch } from 'vue'
import PvButton from 'primevue/button'
import InputText from 'primevue/inputtext'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import { data, POST, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'

const props = defineProps<{ rows: S['BookRow'][] }>()
const emit = defineEmits<{ changed: [] }>()
const { money } = useShop()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()

const form = reactive({ pct: '', step: '0.10' })
const seen = ref<S['RaisedPrice'][]>()
const steps = ['0.01', '0.05', '0.10', '0.50', '1.00'].map((id) => ({ id, name: id }))
const fault = (f: string) => problem.value?.at(f) ?? ''
watch([form, () => props.rows], () => {
  seen.value = undefined
  problem.value = undefined
})

const look = () =>
  attempt(async () => {
    const keys = props.rows.map((r) => r.product.key)
    seen.value = await data(POST('/prices/raised', { body: { keys, pct: form.pct, step: form.step } }))
  })
const set = (prices: S['PriceChange'][]) => data(PUT('/prices', { body: { prices } })).then(() => emit('changed'))
const change = (p: S['Price'], price: string, later: number): S['PriceChange'] => ({
  key: p.key,
  price,
  per: p.per,
  version: p.version + later,
})
const keep = () =>
  attempt(async () => {
    const list = seen.value!
    await set(list.map((x) => change(x.product, x.becomes, 0)))
    form.pct = ''
    done(say`${counted(list.length, 'price')} changed.`, () =>
      set(list.map((x) => change(x.product, x.product.price, 1))),
    )
  })
</script>

<template>
  <details class="box no-print">
    <summary>
      <strong>Change by a percentage</strong> the default prices of the {{ counted(rows.length, 'product') }} shown
    </summary>
    <form class="row" novalidate aria-label="Change by a percentage" @submit.prevent="look">
      <FormField id="raise-pct" label="By, %" :fault="fault('pct')"
        ><InputText
          id="raise-pct"
          v-model="form.pct"
          inputmode="decimal"
          placeholder="5 or −10"
          :invalid="!!fault('pct')"
          autocomplete="off"
      /></FormField>
      <FormField id="raise-step" label="Rounded to" :fault="fault('step')"
        ><PickOne id="raise-step" v-model="form.step" :options="steps"
      /></FormField>
      <PvButton type="submit" severity="secondary" label="Show what it would change" :disabled="busy || !rows.length" />
    </form>
    <p v-if="problem?.rest(['pct', 'step'])" class="fault" role="alert">{{ problem.rest(['pct', 'step']) }}</p>
    <p v-if="seen && !seen.length" class="small">No price would change: they have none, or the step is too coarse.</p>
    <template v-if="seen?.length">
      <div class="seen">
        <table v-wide data-test="raised">
          <thead>
            <tr>
              <th>Product</th>
              <th class="n">Now</th>
              <th class="n">Becomes</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="x in seen" :key="x.product.key">
              <td>{{ x.product.name }}</td>
              <td class="n">{{ money(x.product.price) }}</td>
              <td class="n">
                <strong>{{ money(x.becomes) }}</strong> <span class="small">per {{ x.product.per }}</span>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <div class="row">
        <PvButton :label="say`Save ${counted(seen.length, 'price')}`" :disabled="busy" @click="keep" /><PvButton
          text
          label="Cancel"
          @click="seen = undefined"
        />
      </div>
    </template>
  </details>
</template>

<style scoped>
form {
  align-items: flex-end;
  flex-wrap: wrap;
  margin: 8px 0;
}
form :deep(.p-inputtext) {
  width: 120px;
}
.seen {
  max-height: 320px;
  overflow-y: auto;
  margin: 8px 0 12px;
}
</style>
