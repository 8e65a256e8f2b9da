<script setup lang="ts">
// What becomes of one tub: sold, thrown away, moved, counted, dated; and of trim how lean it was found to be.
import { computed, reactive, ref, watch } from 'vue'
import PvButton from 'primevue/button'
import InputText from 'primevue/inputtext'
import DayPick from '../components/DayPick.vue'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import UnitToggle from '../components/UnitToggle.vue'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { dayOr, typedMass } from '../words/typed'
import { kindNames, placeNames, tubName } from './tubWords'
import type { useStockBooking } from './useStock'
import { say } from '../words/say'

const props = defineProps<{ tub: S['Tub']; places: S['Named'][]; booking: ReturnType<typeof useStockBooking> }>()
const { unit, mass } = useShop()
const { may } = useMe()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const kinds = {
  sold: say('Sold'),
  wasted: say('Thrown away'),
  moved: say('Moved'),
  counted: say('Counted'),
  dated: say('Use by'),
  reduced: say('Reduced'),
}
const kind = ref<keyof typeof kinds>('sold')
const blank = () => ({ weight: '', place: '', useBy: '', note: '', count: '', lean: '', off: '' })
const form = reactive(blank())
watch([form, kind], () => (problem.value = undefined))
const needs = computed(() => ({
  weight: kind.value !== 'dated' && kind.value !== 'reduced',
  off: kind.value === 'reduced',
  count: kind.value === 'sold',
  place: kind.value === 'moved',
  useBy: kind.value === 'dated' || kind.value === 'moved',
  note: kind.value === 'wasted' || kind.value === 'counted' || kind.value === 'reduced',
}))
const fault = (f: string) => problem.value?.at(f) ?? ''
const id = (f: string) => `tub-${props.tub.id.replace(/\W/g, '-')}-${f}`
const elsewhere = computed(() => props.places.filter((p) => p.id !== props.tub.place))

const book = () =>
  attempt(async () => {
    const w = typedMass(form.weight)
    const undo = await props.booking.book({
      tub: props.tub.id,
      kind: kind.value,
      ...(needs.value.weight && form.weight.trim() && { weight: w.number, unit: w.unit ?? unit.value }),
      ...(needs.value.count && Number(form.count) > 0 && { count: Math.round(Number(form.count)) }),
      ...(needs.value.place && { place: form.place }),
      ...(needs.value.useBy && form.useBy.trim() && { use_by: dayOr(form.useBy) }),
      ...(needs.value.off && { off_pct: form.off }),
      note: form.note,
      source: 'typed',
    })
    done(`${tubName(props.tub)}: ${kindNames[kind.value]}.`, undo)
    Object.assign(form, blank())
  })
const test = () =>
  attempt(async () => {
    await props.booking.testFat(props.tub.id, form.lean, form.note)
    done(say`${props.tub.name}: ${form.lean} % lean, kept as a test.`)
    Object.assign(form, blank())
  })
</script>

<template>
  <div class="actions">
    <form novalidate :aria-label="say`What becomes of ${tubName(tub)}`" @submit.prevent="book">
      <UnitToggle v-model="kind" :options="Object.keys(kinds)" :names="kinds" label="What becomes of it" />
      <div class="fields">
        <FormField
          v-if="needs.weight"
          :id="id('weight')"
          :label="kind === 'counted' ? say`There is, ${unit}` : say`Weight, ${unit}`"
          :fault="fault('weight')"
          :hint="kind === 'moved' ? say`Empty for all, ${mass(tub.left_g)}` : ''"
          ><InputText
            :id="id('weight')"
            v-model="form.weight"
            inputmode="decimal"
            :invalid="!!fault('weight')"
            autocomplete="off"
        /></FormField>
        <FormField v-if="needs.count" :id="id('count')" label="Packs" :fault="fault('count')"
          ><InputText :id="id('count')" v-model="form.count" inputmode="numeric" autocomplete="off"
        /></FormField>
        <FormField v-if="needs.place" :id="id('place')" label="To" :fault="fault('place')"
          ><PickOne :id="id('place')" v-model="form.place" :options="elsewhere"
        /></FormField>
        <FormField
          v-if="needs.useBy"
          :id="id('use-by')"
          label="Use by"
          :fault="fault('use_by')"
          :hint="kind === 'moved' ? say('Empty where it stays as it is') : ''"
          ><DayPick :id="id('use-by')" v-model="form.useBy" :invalid="!!fault('use_by')"
        /></FormField>
        <FormField
          v-if="needs.off"
          :id="id('off')"
          label="Off its price, %"
          :fault="fault('off_pct')"
          hint="0 for its full price"
          ><InputText
            :id="id('off')"
            v-model="form.off"
            inputmode="decimal"
            :invalid="!!fault('off_pct')"
            autocomplete="off"
        /></FormField>
        <FormField v-if="needs.note" :id="id('note')" label="Why" :fault="fault('note')"
          ><InputText :id="id('note')" v-model="form.note" :invalid="!!fault('note')" autocomplete="off"
        /></FormField>
        <PvButton type="submit" :label="kinds[kind]" :loading="busy" />
      </div>
    </form>
    <form
      v-if="tub.kind === 'stream' && tub.lean_pct !== undefined && may('POST /fat-tests')"
      class="fields"
      novalidate
      :aria-label="say`Fat test of ${tubName(tub)}`"
      @submit.prevent="test"
    >
      <FormField
        :id="id('lean')"
        label="Fat test: lean, %"
        :fault="fault('lean_pct')"
        :hint="say`The atlas says ${tub.atlas_lean_pct} %`"
        ><InputText
          :id="id('lean')"
          v-model="form.lean"
          inputmode="decimal"
          :invalid="!!fault('lean_pct')"
          autocomplete="off"
      /></FormField>
      <PvButton type="submit" severity="secondary" label="Keep the test" :disabled="busy || !form.lean.trim()" />
    </form>
    <p
      v-if="problem?.rest(['weight', 'count', 'place', 'use_by', 'note', 'lean_pct', 'off_pct'])"
      class="fault"
      role="alert"
    >
      {{ problem.rest(['weight', 'count', 'place', 'use_by', 'note', 'lean_pct', 'off_pct']) }}
    </p>
    <p v-if="placeNames[tub.place]" class="small">
      {{ placeNames[tub.place] }}; from {{ tub.parts }}
      {{ tub.parts === 1 ? say('piece or batch') : say('pieces or batches') }}.
    </p>
  </div>
</template>

<style scoped>
.actions,
form {
  display: flex;
  flex-direction: column;
  gap: 12px;
  align-items: start;
}
.actions {
  padding: 8px 0 12px;
}
.fields {
  display: flex;
  flex-direction: row;
  flex-wrap: wrap;
  gap: 12px;
  align-items: end;
}
.fields :deep(input) {
  width: 150px;
}
</style>
