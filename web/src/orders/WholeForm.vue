<script setup lang="ts">
// A whole animal to a customer's wish: what it weighs and costs, and how each of its pieces is cut. What comes of it is
// asked anew as it is typed.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import { keyOf } from '../api/keys'
import { data, POST, type S } from '../api/client'
import { asProblem, type Problem } from '../api/problem'
import { useCarcasses } from '../atlas/useCarcasses'
import { useShop } from '../shell/shop'
import WholeTable from './WholeTable.vue'
import { wholeDraft, type OrderForm } from './orderDraft'
import { say } from '../words/say'

const props = defineProps<{ problem?: Problem }>()
const form = defineModel<OrderForm>({ required: true })
const { unit } = useShop()
const { data: carcasses } = useCarcasses()
const asked = ref<S['WholeDraft']>()
let timer: ReturnType<typeof setTimeout> | undefined
watch(
  () => [form.value.carcass, form.value.division, form.value.weight, form.value.price, form.value.cuts, unit.value],
  () => {
    clearTimeout(timer)
    timer = setTimeout(() => {
      if (form.value.weight.trim() && form.value.price.trim()) asked.value = wholeDraft(form.value, unit.value)
    }, 400)
  },
  { deep: true, immediate: true },
)
const { data: view, error } = useQuery({
  queryKey: computed(() => keyOf('whole-animal', asked.value)),
  queryFn: () => data(POST('/orders/whole', { body: asked.value! })),
  enabled: computed(() => !!asked.value),
  placeholderData: (was) => was,
  retry: false,
})
const wrong = computed(() => (error.value ? asProblem(error.value) : undefined))
const fault = (f: string) => wrong.value?.at(f) || props.problem?.at(`whole.${f}`) || ''
const rest = computed(() => wrong.value?.rest(['weight', 'price_per_kg', 'carcass']) ?? '')
watch(
  () => form.value.carcass,
  (now, before) => {
    if (before && now !== before) Object.assign(form.value, { division: '', cuts: {} })
  },
)
/** Each piece with how its sides are cut: as was said, or as the plan of the carcass has it. */
const pieces = computed(() => {
  const out = new Map<string, S['WholeCutView'][]>()
  for (const c of view.value?.cuts ?? []) out.set(c.piece, [...(out.get(c.piece) ?? []), c])
  return [...out]
})
/** Keeps what is shown of a piece as what was said, with one thing changed. */
function recut(
  piece: string,
  cuts: S['WholeCutView'][],
  at: number,
  change: Partial<OrderForm['cuts'][string][number]>,
) {
  const list = cuts.map((c) => ({
    plan: c.plan_id,
    count: c.count,
    pieces: c.pieces ? String(c.pieces) : '',
    note: c.note,
  }))
  list[at] = { ...list[at]!, ...change }
  form.value.cuts = { ...form.value.cuts, [piece]: list }
}
/** One of several is cut its own way. */
function part(piece: string, cuts: S['WholeCutView'][]) {
  const [first] = cuts
  const one = { plan: first!.plan_id, count: 1, pieces: '', note: '' }
  form.value.cuts = { ...form.value.cuts, [piece]: [{ ...one, count: first!.count - 1 }, one] }
}
</script>

<template>
  <fieldset>
    <legend>The animal</legend>
    <div class="fields">
      <FormField id="whole-carcass" label="What" :fault="fault('carcass')"
        ><PickOne id="whole-carcass" v-model="form.carcass" :options="carcasses"
      /></FormField>
      <FormField id="whole-weight" :label="say`Cold weight, ${unit}`" :fault="fault('weight')"
        ><InputText
          id="whole-weight"
          v-model="form.weight"
          inputmode="decimal"
          :invalid="!!fault('weight')"
          autocomplete="off"
      /></FormField>
      <FormField id="whole-price" label="A kilogram of all of it" :fault="fault('price_per_kg')"
        ><InputText
          id="whole-price"
          v-model="form.price"
          inputmode="decimal"
          :invalid="!!fault('price_per_kg')"
          autocomplete="off"
      /></FormField>
      <FormField v-if="(view?.divisions.length ?? 0) > 1" id="whole-division" label="Broken into"
        ><PickOne
          id="whole-division"
          :model-value="view!.division"
          :options="view!.divisions"
          @update:model-value="
            (d: string) => {
              form.division = d
              form.cuts = {}
            }
          "
      /></FormField>
    </div>
    <p v-if="rest" class="fault" role="alert">{{ rest }}</p>
    <p v-if="!view && !wrong" class="small">Enter weight and price, and how each piece is cut can be chosen.</p>
    <div v-for="[piece, cuts] in pieces" :key="piece" class="piece">
      <div v-for="(c, i) in cuts" :key="i" class="cut">
        <span class="name"
          ><strong>{{ c.count }} × {{ c.name }}</strong></span
        ><PickOne
          class="plan"
          :model-value="c.plan_id"
          :options="c.plans"
          :label="say`How ${c.name} is cut`"
          @update:model-value="(id: string) => recut(piece, cuts, i, { plan: id })"
        /><label class="small"
          >in a pack
          <InputText
            class="short"
            inputmode="numeric"
            :model-value="c.pieces ? String(c.pieces) : ''"
            :aria-label="say`Pieces of ${c.name} in a pack`"
            @change="recut(piece, cuts, i, { pieces: ($event.target as HTMLInputElement).value })" /></label
        ><InputText
          class="wish"
          placeholder="wish"
          :aria-label="say`Wish for ${c.name}`"
          :model-value="c.note"
          @change="recut(piece, cuts, i, { note: ($event.target as HTMLInputElement).value })"
        />
        <PvButton
          v-if="cuts.length === 1 && c.count > 1"
          text
          label="Cut one otherwise"
          :aria-label="say`Cut one ${c.name} otherwise`"
          @click="part(piece, cuts)"
        />
      </div>
    </div>
    <WholeTable v-if="view" :whole="view" />
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
}
legend {
  padding: 0;
  font-weight: 650;
}
.fields,
.cut {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 14px;
  align-items: center;
}
.fields {
  align-items: start;
  margin: 8px 0;
}
.piece {
  border-top: 1px solid var(--hairline);
  padding: 4px 0;
}
.name {
  width: 230px;
}
.plan {
  width: 330px;
  max-width: 100%;
}
.short {
  width: 64px;
}
.wish {
  width: 200px;
}
</style>
