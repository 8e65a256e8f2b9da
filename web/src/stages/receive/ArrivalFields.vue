<script setup lang="ts">
// The fields of an arrival: the few that must be, and what else is known, one touch away.
import { computed, watch } from 'vue'
import InputText from 'primevue/inputtext'
import DayPick from '../../components/DayPick.vue'
import FormField from '../../components/FormField.vue'
import UnitToggle from '../../components/UnitToggle.vue'
import type { S } from '../../api/client'
import { useAtlasPiece } from '../../api/useAtlasPiece'
import { useShop } from '../../shell/shop'
import { aboutFields, type AboutField, type ArrivalForm } from './arrival'
import InspectionTicks from './InspectionTicks.vue'
import PieceSearch from './PieceSearch.vue'
import PickOne from '../../components/PickOne.vue'
import { dayHint, typedMass } from '../../words/typed'
import { say } from '../../words/say'

const props = defineProps<{ fault: (field: string) => string; fixed?: boolean }>()
const form = defineModel<ArrivalForm>('form', { required: true })
const piece = defineModel<S['PieceHit'] | undefined>('piece', { required: true })
const emit = defineEmits<{ failed: [unknown]; numbered: [] }>()
const { shop } = useShop()
const { data: atlasPiece } = useAtlasPiece(() => piece.value?.id)

function settleWeight() {
  const m = typedMass(form.value.weight)
  if (m.unit) {
    form.value.weightUnit = m.unit
    form.value.weight = m.number
  }
}
const example = say('A day such as 16.11., or −9 for nine days ago')
const several = computed(() => /^\s*([2-9]|\d{2,})\s*$/.test(form.value.pieces))
const names: Record<AboutField, string> = {
  bone: say('Bone'),
  breed: say('Breed'),
  feed: say('Fed on'),
  sex: say('Sex'),
  age_class: say('Age'),
  hang: say('Hung'),
  fat_class: say('Fat and shape'),
  marbling: say('Marbling'),
  supplier_grade: say("Supplier's grade"),
  ph: 'pH',
  temperature_c: say('Temperature, °C'),
  fat_pct: say('Fat within the muscle, %'),
  lean_yield_pct: say('Lean-meat yield, %'),
  born_in: say('Born in'),
  reared_in: say('Reared in'),
  slaughtered_in: say('Slaughtered in'),
  plant: say('Approval number of the slaughterhouse'),
}
const decimals: AboutField[] = ['ph', 'temperature_c', 'fat_pct', 'lean_yield_pct']
/** The form in which the piece came; the usual one until another is picked. */
const comesAs = computed({
  get: () => form.value.form || (atlasPiece.value?.forms.find((f) => f.usual)?.id ?? ''),
  set: (id) => (form.value.form = id),
})
const lacks = computed(() => atlasPiece.value?.forms.find((f) => f.id === comesAs.value)?.note ?? '')
// another piece has other forms
watch(
  () => piece.value?.id,
  (id, before) => {
    if (before && id !== before) form.value.form = ''
  },
)
const known = computed(() => aboutFields.filter((f) => form.value.about[f].trim()).length)
const open = computed(
  () =>
    known.value > 0 || !!form.value.invoiced || !!props.fault('invoiced') || aboutFields.some((f) => props.fault(f)),
)
</script>

<template>
  <FormField id="piece" label="Piece, by any name" :fault="fault('atlas_id')">
    <PieceSearch v-model="piece" input-id="piece" :invalid="!!fault('atlas_id')" @failed="(e) => emit('failed', e)" />
  </FormField>
  <FormField v-if="atlasPiece?.forms.length" id="form" label="It came" :fault="fault('form')" :hint="lacks"
    ><PickOne id="form" v-model="comesAs" :options="atlasPiece.forms" :disabled="fixed"
  /></FormField>
  <div class="grid">
    <FormField id="pieces" label="Pieces" :fault="fault('pieces')"
      ><InputText id="pieces" v-model="form.pieces" inputmode="numeric" :invalid="!!fault('pieces')" autocomplete="off"
    /></FormField>
    <FormField id="weight" class="wide" label="Weight, all together" :fault="fault('weight') || fault('weight_unit')">
      <span class="with"
        ><InputText
          id="weight"
          v-model="form.weight"
          inputmode="decimal"
          :invalid="!!fault('weight')"
          autocomplete="off"
          @blur="settleWeight" /><UnitToggle
          v-model="form.weightUnit"
          :options="form.weightUnit === 'g' ? ['kg', 'lb', 'g'] : ['kg', 'lb']"
          label="Unit of the weight"
      /></span>
    </FormField>
    <FormField id="price" class="wide" label="Price" :fault="fault('price') || fault('price_per')">
      <span class="with"
        ><InputText
          id="price"
          v-model="form.price"
          inputmode="decimal"
          :invalid="!!fault('price')"
          autocomplete="off" /><UnitToggle v-model="form.pricePer" :options="['kg', 'lb']" label="Price per"
      /></span>
    </FormField>
  </div>
  <FormField
    v-if="several || form.each"
    id="each"
    label="Or each piece's weight, one after the other"
    :fault="fault('weights')"
    :hint="say`In ${form.weightUnit}, such as 6.1 6.74 7.02; left open they count as even`"
    ><InputText id="each" v-model="form.each" inputmode="text" :invalid="!!fault('weights')" autocomplete="off"
  /></FormField>
  <div class="grid two">
    <FormField
      id="slaughtered"
      label="Slaughtered on"
      :fault="fault('slaughtered_on')"
      :hint="dayHint(form.slaughtered, example)"
      ><DayPick id="slaughtered" v-model="form.slaughtered" :invalid="!!fault('slaughtered_on')"
    /></FormField>
    <FormField
      id="packed"
      label="Packed on"
      :fault="fault('packed_on')"
      :hint="form.packed ? dayHint(form.packed, example) : say('Left open: it hangs unpacked')"
      ><DayPick id="packed" v-model="form.packed" :invalid="!!fault('packed_on')"
    /></FormField>
    <FormField id="supplier" label="Supplier" :fault="fault('supplier')"
      ><InputText
        id="supplier"
        v-model="form.supplier"
        list="suppliers"
        :invalid="!!fault('supplier')"
        autocomplete="off"
    /></FormField>
    <FormField id="lot" label="Lot number" :fault="fault('lot_number')"
      ><InputText
        id="lot"
        v-model="form.lot"
        :invalid="!!fault('lot_number')"
        autocomplete="off"
        @input="emit('numbered')"
    /></FormField>
  </div>
  <datalist id="suppliers"><option v-for="s in shop?.suppliers" :key="s" :value="s" /></datalist>
  <details class="more" :open="open">
    <summary>
      The animal, and how it came <span v-if="known" class="small">&nbsp;{{ known }} known</span>
    </summary>
    <div class="grid four">
      <FormField id="invoiced" :label="say`Weight on the invoice, ${form.weightUnit}`" :fault="fault('invoiced')"
        ><InputText
          id="invoiced"
          v-model="form.invoiced"
          inputmode="decimal"
          :invalid="!!fault('invoiced')"
          autocomplete="off"
      /></FormField>
      <FormField v-for="f in aboutFields" :id="`about-${f}`" :key="f" :label="names[f]" :fault="fault(f)">
        <PickOne
          v-if="shop?.words[f]"
          :id="`about-${f}`"
          v-model="form.about[f]"
          :options="shop.words[f]"
          none="not said"
        />
        <InputText
          v-else
          :id="`about-${f}`"
          v-model="form.about[f]"
          :inputmode="decimals.includes(f) ? 'decimal' : 'text'"
          :invalid="!!fault(f)"
          autocomplete="off"
        />
      </FormField>
      <FormField id="note" class="note" label="Note" :fault="fault('note')"
        ><InputText id="note" v-model="form.note" :invalid="!!fault('note')" autocomplete="off"
      /></FormField>
    </div>
  </details>
  <InspectionTicks
    v-if="atlasPiece"
    v-model="form.findings"
    v-model:decided="form.decided"
    :points="atlasPiece.inspect"
    :disabled="fixed"
  />
  <p v-if="fault('findings') || fault('decided')" class="fault" role="alert">
    {{ fault('findings') || fault('decided') }}
  </p>
</template>

<style scoped>
.grid {
  display: grid;
  grid-template-columns: 84px 1fr 1fr;
  gap: 14px;
  align-items: start;
}
.grid.two {
  grid-template-columns: 1fr 1fr;
}
.grid.four {
  grid-template-columns: repeat(auto-fit, minmax(138px, 1fr));
  padding-top: 10px;
}
.note {
  grid-column: 1 / -1;
}
.with {
  display: flex;
}
.more {
  border-top: 1px solid var(--hairline);
}
summary {
  cursor: pointer;
  min-height: 44px;
  padding-top: 10px;
  font-weight: 650;
}
@media (max-width: 560px) {
  .grid,
  .grid.two {
    grid-template-columns: 1fr;
  }
}
</style>
