<script setup lang="ts">
// A lot as it comes in: typed in half a minute, answered while it is typed.
import { computed, nextTick, onMounted, reactive, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../../components/FormField.vue'
import UnitToggle from '../../components/UnitToggle.vue'
import { data, POST, type S } from '../../api/client'
import { asProblem, Problem } from '../../api/problem'
import { useAtlasPiece } from '../../api/useAtlasPiece'
import { plainDay, useShop } from '../../shell/shop'
import ForecastPane from './ForecastPane.vue'
import InspectionTicks from './InspectionTicks.vue'
import PieceSearch from './PieceSearch.vue'
import { isDay, typedCount, typedDay, typedMass } from './typed'
import { useForecast } from './useForecast'

const router = useRouter()
const queries = useQueryClient()
const { shop, unit } = useShop()

const piece = shallowRef<S['PieceHit']>()
const form = reactive({ pieces: '1', weight: '', weightUnit: 'kg', price: '', pricePer: 'kg', slaughtered: '', packed: '', supplier: '', lot: '', findings: [] as string[] })
const refused = shallowRef<Problem>()
const saving = ref(false)
const first = useTemplateRef<HTMLElement>('first')
const lotTouched = ref(false)

watch(unit, (u) => { if (!form.weight) form.weightUnit = u; if (!form.price) form.pricePer = u }, { immediate: true })
watch(() => shop.value?.next_lot_number, (n) => { if (n && !lotTouched.value) form.lot = n }, { immediate: true })
onMounted(() => void nextTick(() => first.value?.querySelector('input')?.focus()))

function settleWeight() {
  const m = typedMass(form.weight)
  if (m.unit) { form.weightUnit = m.unit; form.weight = m.number }
}
const days = computed(() => ({ slaughtered: typedDay(form.slaughtered), packed: typedDay(form.packed) }))
const dayHint = (d: string) => (isDay(d) ? plainDay(d) : 'A day such as 16.11., or −9 for nine days ago')

const request = computed<S['ForecastRequest'] | undefined>(() => {
  const w = typedMass(form.weight)
  if (!piece.value || !w.number || !form.price.trim()) return undefined
  return {
    atlas_id: piece.value.id, pieces: typedCount(form.pieces), weight: w.number, weight_unit: (w.unit ?? form.weightUnit) as 'kg', price: form.price.trim(),
    price_per: form.pricePer as 'kg', findings: form.findings,
    ...(isDay(days.value.slaughtered) && { slaughtered_on: days.value.slaughtered }), ...(isDay(days.value.packed) && { packed_on: days.value.packed }),
  }
})
const { forecast, problem, asking } = useForecast(request)
const { data: atlasPiece } = useAtlasPiece(() => piece.value?.id)
watch(piece, () => (form.findings = []))

const fields = ['atlas_id', 'pieces', 'weight', 'weight_unit', 'price', 'price_per', 'slaughtered_on', 'packed_on', 'supplier', 'lot_number', 'findings', 'note']
const fault = (field: string) => refused.value?.at(field) || problem.value?.at(field) || ''
const otherFault = computed(() => refused.value?.rest(fields) || (problem.value && problem.value.errors.length === 0 ? problem.value.message : ''))
watch(form, () => (refused.value = undefined))

async function receive() {
  if (saving.value) return
  settleWeight()
  saving.value = true
  try {
    const w = typedMass(form.weight)
    const lot = await data(POST('/lots', { body: {
      atlas_id: piece.value?.id ?? '', pieces: typedCount(form.pieces), weight: w.number, weight_unit: (w.unit ?? form.weightUnit) as 'kg', price: form.price.trim(),
      price_per: form.pricePer as 'kg', slaughtered_on: days.value.slaughtered, packed_on: days.value.packed, supplier: form.supplier, lot_number: form.lot, findings: form.findings,
    } }))
    await queries.invalidateQueries()
    const only = lot.piece_ids.length === 1 ? lot.piece_ids[0] : undefined
    await router.push(only ? { name: 'plan', params: { piece: only } } : { name: 'rail' })
  } catch (e) {
    refused.value = asProblem(e)
    await nextTick(() => document.querySelector<HTMLElement>('[aria-invalid="true"], .p-invalid input')?.focus())
  } finally {
    saving.value = false
  }
}
</script>

<template>
  <section class="page receive">
    <form class="form" novalidate aria-label="Receive a lot" @submit.prevent="receive" @keydown.ctrl.enter="receive">
      <h1>What came in?</h1>
      <div ref="first"><FormField id="piece" label="Piece, by any name" :fault="fault('atlas_id')">
        <PieceSearch v-model="piece" input-id="piece" :invalid="!!fault('atlas_id')" @failed="(e) => (refused = asProblem(e))" />
      </FormField></div>
      <div class="grid">
        <FormField id="pieces" label="Pieces" :fault="fault('pieces')"><InputText id="pieces" v-model="form.pieces" inputmode="numeric" :invalid="!!fault('pieces')" autocomplete="off" /></FormField>
        <FormField id="weight" class="wide" label="Weight, all together" :fault="fault('weight') || fault('weight_unit')">
          <span class="with"><InputText id="weight" v-model="form.weight" inputmode="decimal" :invalid="!!fault('weight')" autocomplete="off" @blur="settleWeight" /><UnitToggle v-model="form.weightUnit" :options="form.weightUnit === 'g' ? ['kg', 'lb', 'g'] : ['kg', 'lb']" label="Unit of the weight" /></span>
        </FormField>
        <FormField id="price" class="wide" label="Price" :fault="fault('price') || fault('price_per')">
          <span class="with"><InputText id="price" v-model="form.price" inputmode="decimal" :invalid="!!fault('price')" autocomplete="off" /><UnitToggle v-model="form.pricePer" :options="['kg', 'lb']" label="Price per" /></span>
        </FormField>
      </div>
      <div class="grid two">
        <FormField id="slaughtered" label="Slaughtered on" :fault="fault('slaughtered_on')" :hint="dayHint(days.slaughtered)"><InputText id="slaughtered" v-model="form.slaughtered" :invalid="!!fault('slaughtered_on')" autocomplete="off" /></FormField>
        <FormField id="packed" label="Packed on" :fault="fault('packed_on')" :hint="dayHint(days.packed)"><InputText id="packed" v-model="form.packed" :invalid="!!fault('packed_on')" autocomplete="off" /></FormField>
        <FormField id="supplier" label="Supplier" :fault="fault('supplier')"><InputText id="supplier" v-model="form.supplier" list="suppliers" :invalid="!!fault('supplier')" autocomplete="off" /></FormField>
        <FormField id="lot" label="Lot number" :fault="fault('lot_number')"><InputText id="lot" v-model="form.lot" :invalid="!!fault('lot_number')" autocomplete="off" @input="lotTouched = true" /></FormField>
      </div>
      <datalist id="suppliers"><option v-for="s in shop?.suppliers" :key="s" :value="s" /></datalist>
      <InspectionTicks v-if="atlasPiece" v-model="form.findings" :points="atlasPiece.inspect" />
      <p v-if="otherFault" class="fault" role="alert">{{ otherFault }}</p>
      <div class="row submit"><PvButton type="submit" label="Hang it on the rail" :loading="saving" /><span class="small"><kbd>Enter</kbd> in any field does the same</span></div>
    </form>
    <ForecastPane :forecast="forecast" :asking="asking" :piece="piece" />
  </section>
</template>

<style scoped>
.receive { display: grid; grid-template-columns: minmax(0, 620px) minmax(0, 1fr); gap: 36px; }
.form { display: flex; flex-direction: column; gap: 14px; }
.grid { display: grid; grid-template-columns: 84px 1fr 1fr; gap: 14px; align-items: start; }
.grid.two { grid-template-columns: 1fr 1fr; }
.with { display: flex; }
.submit { position: sticky; bottom: 0; background: var(--ground); padding: 8px 0; }
@media (max-width: 1000px) { .receive { grid-template-columns: 1fr; } }
@media (max-width: 560px) { .grid, .grid.two { grid-template-columns: 1fr; } }
</style>
