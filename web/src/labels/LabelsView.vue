<script setup lang="ts">
// A pack's label, as it will be printed; price tickets for the counter; what the shop's labels say.
import { computed, ref, watch } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FetchBar from '../components/FetchBar.vue'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import StateNote from '../components/StateNote.vue'
import { useAddressForm } from '../components/useAddressForm'
import type { S } from '../api/client'
import { asProblem } from '../api/problem'
import { useAttempt } from '../api/useAttempt'
import { useDownload } from '../api/useDownload'
import { useWeighed } from '../bench/useWeighed'
import { useFeedback } from '../feedback/useFeedback'
import { tubName } from '../goods/tubWords'
import { useStock } from '../goods/useStock'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { plainDay } from '../words/shown'
import { typedCount } from '../words/typed'
import LabelNumbers from './LabelNumbers.vue'
import LabelSettings from './LabelSettings.vue'
import TicketList from './TicketList.vue'
import { asJson, useLabel, useLabels } from './useLabels'

const { unit, mass } = useShop()
const { may } = useMe()
const { done } = useFeedback()
const labels = useLabels()
const { data: known, error, isLoading, refetch } = labels
const { data: stock } = useStock()
const { bench, benches, placeholder, there, weighed } = useWeighed()
const form = useAddressForm({ tub: '' })
const weight = ref('')
const copies = ref('1')
const tubs = computed(() =>
  (stock.value?.tubs ?? [])
    .filter((t) => t.left_g > 0 && t.form !== 'bone')
    .map((t) => ({ id: t.id, name: say`${tubName(t)}: ${mass(t.left_g, 2)}, use by ${plainDay(t.use_by)}` })),
)
const asked = ref<S['LabelAsk']>()
let timer: ReturnType<typeof setTimeout> | undefined
const typingTakes = 300
watch(
  [() => form.tub, weight, placeholder, unit],
  () => {
    clearTimeout(timer)
    timer = setTimeout(() => {
      const w = weighed(weight.value)
      asked.value = form.tub && there(weight.value) ? { tub: form.tub, weight: w.weight, unit: w.unit } : undefined
    }, typingTakes)
  },
  { immediate: true },
)
const { data: shown, error: refused, isFetching } = useLabel(asked)
const wrong = computed(() => (refused.value ? asProblem(refused.value) : undefined))
const label = computed(() => (asked.value && !wrong.value ? shown.value : undefined))
// a product gets its number with its first label
watch(
  () => label.value?.item,
  (item) => item && !known.value?.codes.some((c) => c.item === item) && void refetch(),
)
const printer = ref('')
watch(
  known,
  (k) => {
    if (!printer.value) printer.value = k?.printers[0]?.bench_id ?? ''
  },
  { immediate: true },
)
const chosen = computed(() => known.value?.printers.find((p) => p.bench_id === printer.value))
const { busy, problem, attempt } = useAttempt()
const file = useDownload()
const print = () =>
  attempt(async () => {
    const n = typedCount(copies.value)
    await labels.print({ bench_id: printer.value, pack: asked.value!, copies: n })
    done(say`${counted(n, 'label')} printed on ${chosen.value?.bench}.`)
    weight.value = ''
    void refetch()
  })
const pdf = (sheet: boolean) =>
  file.download(
    '/api/v1/labels/pdf',
    asJson({ sheet, packs: [{ pack: asked.value, copies: typedCount(copies.value) }] }),
  )
const trouble = computed(() => {
  const p = problem.value ?? file.problem.value
  return p ? p.errors.map((e) => `${e.message} ${e.hint ?? ''}`).join(' ') || p.message : ''
})
</script>

<template>
  <section class="page">
    <h1 class="sentence">Labels and tickets</h1>
    <StateNote :error="error" :loading="isLoading" what="the labels" @retry="refetch()" />
    <div v-if="known" class="lay">
      <form novalidate aria-label="A pack" @submit.prevent="print">
        <FormField id="label-tub" label="From" :fault="wrong?.at('tub')"
          ><PickOne id="label-tub" v-model="form.tub" :options="tubs" none="choose a tub"
        /></FormField>
        <div class="fields">
          <FormField id="label-weight" :label="say`Net weight, ${unit}`" :fault="wrong?.at('weight')"
            ><InputText
              id="label-weight"
              v-model="weight"
              inputmode="decimal"
              :placeholder="placeholder"
              :invalid="!!wrong?.at('weight')"
              autocomplete="off"
          /></FormField>
          <FormField id="label-copies" label="Labels" :fault="problem?.at('copies')"
            ><InputText id="label-copies" v-model="copies" inputmode="numeric" autocomplete="off"
          /></FormField>
          <FormField v-if="benches.length" id="label-bench" label="Scale of"
            ><PickOne id="label-bench" v-model="bench" :options="benches" none="no scale, I type"
          /></FormField>
        </div>
        <FormField
          v-if="known.printers.length"
          id="label-printer"
          label="Printer of"
          :fault="chosen?.ready ? '' : chosen?.message"
          :hint="chosen?.simulated ? say('A stand-in: nothing comes out of it.') : ''"
          ><PickOne id="label-printer" v-model="printer" :options="known.printers" by="bench_id" called="bench"
        /></FormField>
        <p v-if="wrong?.rest(['tub', 'weight'])" class="fault" role="alert">{{ wrong.rest(['tub', 'weight']) }}</p>
        <p v-if="trouble" class="fault" role="alert">{{ trouble }}</p>
        <div class="row">
          <PvButton
            v-if="known.printers.length"
            type="submit"
            label="Print"
            :loading="busy"
            :disabled="!label || isFetching"
            data-test="print-label"
          />
          <PvButton
            severity="secondary"
            label="PDF"
            :disabled="!label || file.busy.value"
            data-test="label-pdf"
            @click="pdf(false)"
          />
          <PvButton text label="PDF sheet of A4" :disabled="!label || file.busy.value" @click="pdf(true)" />
          <FetchBar v-if="file.busy.value" :part="file.part.value" label="The labels are being fetched" />
        </div>
      </form>
      <figure>
        <template v-if="label">
          <img :src="label.picture" :alt="say`The label of ${label.name}`" data-test="label-picture" />
          <figcaption class="small">
            {{ label.lawful }}, lot {{ label.lot }}<template v-if="label.ean13">, number {{ label.ean13 }}</template
            ><template v-if="label.gs1">, {{ label.gs1 }}</template>
          </figcaption>
          <p v-if="label.missing.length" class="fault" data-test="label-missing">
            The law of the European Union asks for more: {{ label.missing.join(', ') }}. Local rules come first.
          </p>
        </template>
        <p v-else class="small">Choose a tub and weigh a pack: its label is drawn here as it will be printed.</p>
      </figure>
    </div>
    <template v-if="known">
      <TicketList v-if="stock" :tubs="stock.tubs" />
      <LabelSettings v-if="may('PUT /labels/settings')" :settings="known.settings" :keep="labels.set" />
      <LabelNumbers :codes="known.codes" :may="may('PUT /labels/codes/{product_key}')" :keep="labels.number" />
    </template>
  </section>
</template>

<style scoped>
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 28px;
  margin-top: 14px;
}
form {
  display: flex;
  flex-direction: column;
  gap: 12px;
  align-items: stretch;
}
.fields {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
}
.fields :deep(input.p-inputtext) {
  width: 130px;
}
figure {
  margin: 0;
}
img {
  width: 100%;
  max-width: 560px;
  border: 1px solid var(--line);
  background: #fff;
}
@media (max-width: 900px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
