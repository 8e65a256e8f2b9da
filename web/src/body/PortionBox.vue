<script setup lang="ts">
// Where to cut a muscle into portions: by weight, count or thickness, as a strip at which the knife is laid.
// Each portion that is weighed moves the marks of what is left.
import { computed, reactive, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import FetchBar from '../components/FetchBar.vue'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { data, POST, type S } from '../api/client'
import { Problem } from '../api/problem'
import { useDownload } from '../api/useDownload'
import { useShop } from '../shell/shop'
import { typedNumber } from '../words/typed'
import { finger } from './finger'
import { say } from '../words/say'

const props = defineProps<{
  piece: string
  /** A muscle, the whole piece, or a block of parts that are still joined. */
  part: string
  weightG: number
  lengthMm?: number
  holds?: Record<string, number>
  /** What a block is called. */
  name?: string
}>()
const { mass, money, unit, gramsOf: grams, bare } = useShop()
const ways = ['weight', 'count', 'thickness'] as const
const called: Record<string, string> = {
  weight: say('By weight'),
  count: say('By count'),
  thickness: say('By thickness'),
}
// Two of these may stand on one page: of the piece and of one of its muscles.
const own = ['piece', 'block'].includes(props.part) ? `${props.part}-portion` : 'portion'
const form = reactive({
  way: 'weight' as (typeof ways)[number],
  weight: bare(props.weightG),
  length: props.lengthMm ? String(Math.round(props.lengthMm)) : '',
  label: bare(220),
  over: bare(30),
  count: '6',
  most: '',
  thick: '30',
  into: '1',
  price: '',
  rest: '',
})
const slices = ['1', '2', '3', '4']
const sliceWords: Record<string, string> = {
  1: 'whole',
  2: say('in halves'),
  3: say('in thirds'),
  4: say('in quarters'),
}
const cut = ref<{ to_mm: number; g: number }[]>([])
watch(form, () => (cut.value = []), { deep: true })
const ask = computed<S['PortionAsk']>(() => ({
  atlas_id: props.piece,
  part: props.part,
  ...(props.holds && { holds: props.holds, called: props.name }),
  way: form.way,
  weight_g: grams(form.weight) || 0,
  ...(form.length.trim() && { length_mm: typedNumber(form.length) || -1 }),
  ...(form.way === 'weight' && { label_g: grams(form.label) || 0, over_g: grams(form.over) || 0 }),
  ...(form.way === 'weight' && form.most.trim() && { count: Math.round(typedNumber(form.most)) || -1 }),
  ...(form.way === 'count' && { count: Math.round(typedNumber(form.count)) || 0 }),
  ...(form.way === 'thickness' && { thickness_mm: Math.round(typedNumber(form.thick)) || 0 }),
  ...(form.into !== '1' && { into: Number(form.into) }),
  ...(form.price.trim() && {
    price: form.price.trim(),
    price_per: unit.value as 'kg',
    ...(form.rest.trim() && { rest_price: form.rest.trim() }),
  }),
  ...(cut.value.length && { cut: cut.value }),
}))
const {
  data: plan,
  error,
  isFetching,
} = useQuery({
  queryKey: computed(() => keyOf('portions', ask.value)),
  queryFn: () => data(POST('/portions', { body: ask.value })),
  retry: false,
})
const problem = computed(() => (error.value instanceof Problem ? error.value : undefined))
const fault = (f: string) => problem.value?.at(f) ?? ''
const fields = ['weight_g', 'length_mm', 'label_g', 'over_g', 'count', 'thickness_mm', 'into', 'price', 'rest_price']
const brings = (m: S['PortionMoney']) =>
  [
    say`${money(m.portions)} for the portions`,
    Number(m.rest) ? say`${money(m.rest)} for the rest` : '',
    Number(m.given_away) ? say`${money(m.given_away)} given away` : '',
  ]
    .filter(Boolean)
    .join(', ')
const next = computed(() => plan.value?.pieces.find((p) => p.portion))
const weighed = ref('')
function took() {
  const g = grams(weighed.value)
  if (!next.value || !(g > 0)) return
  cut.value = [...cut.value, { to_mm: next.value.to_mm, g }]
  weighed.value = ''
}
const fingers = (mm: number) => (mm / finger).toLocaleString('en', { maximumFractionDigits: 1 })
const { busy, problem: printFault, download } = useDownload()
const print = () =>
  download('/api/v1/portions/ruler.pdf', {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(ask.value),
  })
</script>

<template>
  <section class="portions" :aria-labelledby="`${own}-it`" data-test="portions">
    <div class="spread">
      <h3 :id="`${own}-it`">Portion it</h3>
      <UnitToggle v-model="form.way" :options="[...ways]" :names="called" label="Portion it" />
    </div>
    <div class="fields">
      <FormField :id="`${own}-weight`" :label="say`It weighs, ${unit}`" :fault="fault('weight_g')"
        ><InputText :id="`${own}-weight`" v-model.lazy="form.weight" inputmode="decimal" autocomplete="off"
      /></FormField>
      <FormField :id="`${own}-length`" label="Its length, mm" :fault="fault('length_mm')"
        ><InputText
          :id="`${own}-length`"
          v-model.lazy="form.length"
          inputmode="numeric"
          placeholder="as usual"
          autocomplete="off"
      /></FormField>
      <template v-if="form.way === 'weight'">
        <FormField :id="`${own}-label`" :label="say`Each at least, ${unit}`" :fault="fault('label_g')"
          ><InputText :id="`${own}-label`" v-model.lazy="form.label" inputmode="decimal" autocomplete="off"
        /></FormField>
        <FormField :id="`${own}-over`" :label="say`or up to so much more, ${unit}`" :fault="fault('over_g')"
          ><InputText :id="`${own}-over`" v-model.lazy="form.over" inputmode="decimal" autocomplete="off"
        /></FormField>
        <FormField :id="`${own}-most`" label="How many" :fault="fault('count')"
          ><InputText
            :id="`${own}-most`"
            v-model.lazy="form.most"
            inputmode="numeric"
            placeholder="all there are"
            autocomplete="off"
        /></FormField>
      </template>
      <FormField v-else-if="form.way === 'count'" :id="`${own}-count`" label="Portions" :fault="fault('count')"
        ><InputText :id="`${own}-count`" v-model.lazy="form.count" inputmode="numeric" autocomplete="off"
      /></FormField>
      <FormField v-else :id="`${own}-thick`" label="Each so thick, mm" :fault="fault('thickness_mm')"
        ><InputText :id="`${own}-thick`" v-model.lazy="form.thick" inputmode="numeric" autocomplete="off"
      /></FormField>
      <FormField :id="`${own}-into`" label="Each slice" :fault="fault('into')">
        <PickOne :id="`${own}-into`" v-model="form.into" :options="slices" :called="(n: string) => sliceWords[n]!" />
      </FormField>
      <FormField :id="`${own}-price`" :label="say`Price a ${unit}, if you like`" :fault="fault('price')"
        ><InputText :id="`${own}-price`" v-model.lazy="form.price" inputmode="decimal" autocomplete="off"
      /></FormField>
      <FormField v-if="form.price.trim()" :id="`${own}-rest`" label="Of the rest" :fault="fault('rest_price')"
        ><InputText :id="`${own}-rest`" v-model.lazy="form.rest" inputmode="decimal" placeholder="0" autocomplete="off"
      /></FormField>
    </div>
    <p v-if="problem?.rest(fields)" class="fault" role="alert">{{ problem.rest(fields) }}</p>
    <FetchBar v-if="isFetching" label="The cuts are laid" />
    <template v-if="plan && !error">
      <p>
        <strong>{{ plan.sentence }}</strong>
      </p>
      <p v-if="plan.money" data-test="portion-money">
        <strong>{{ money(plan.money.whole) }}</strong>: {{ brings(plan.money) }}.<template v-if="plan.other_money">
          The other way, {{ money(plan.other_money.whole) }}.</template
        >
      </p>
      <div class="strip" role="img" :aria-label="say`${plan.length_mm} mm long: ${plan.sentence}`">
        <div
          v-for="p in plan.pieces"
          :key="p.from_mm"
          class="mark"
          :class="{ rest: !p.portion }"
          :style="{
            left: `${(p.from_mm / plan.length_mm) * 100}%`,
            width: `${((p.to_mm - p.from_mm) / plan.length_mm) * 100}%`,
          }"
        />
      </div>
      <div v-if="next" class="next" data-test="next-cut">
        <span
          >Next cut <strong class="mm">{{ next.to_mm - next.from_mm }} mm</strong>
          <span class="small">({{ fingers(next.to_mm - next.from_mm) }} fingers), at {{ next.to_mm }} mm</span></span
        >
        <form class="row no-print" novalidate @submit.prevent="took">
          <InputText
            v-model="weighed"
            inputmode="decimal"
            :placeholder="say`it weighed, ${unit}`"
            :aria-label="say`What the portion weighed, ${unit}`"
            data-test="weighed"
          />
          <PvButton type="submit" severity="secondary" label="Cut and weighed" />
          <PvButton v-if="cut.length" text label="Undo" @click="cut = cut.slice(0, -1)" />
        </form>
      </div>
      <ol class="marks small" :start="cut.length + 1">
        <li v-for="p in plan.pieces" :key="p.from_mm">
          {{ p.portion ? '' : say('Rest: ') }}{{ p.from_mm }}–{{ p.to_mm }} mm, {{ p.to_mm - p.from_mm }} mm,
          {{ mass(p.g) }}
        </li>
      </ol>
      <p v-if="plan.other_sentence" class="small">{{ plan.other_sentence }}</p>
      <p class="small">Shape: {{ plan.basis }}.</p>
      <div class="row no-print">
        <PvButton severity="secondary" label="The marks as a ruler (PDF)" :loading="busy" @click="print" />
        <span v-if="printFault" class="fault" role="alert">{{ printFault.message }}</span>
      </div>
    </template>
  </section>
</template>

<style scoped>
.portions {
  margin-top: 18px;
  border-top: 2px solid var(--ink);
  padding-top: 10px;
}
.portions .spread {
  flex-wrap: wrap;
  gap: 6px 12px;
}
.fields {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(130px, 1fr));
  gap: 10px;
  align-items: end;
  margin: 8px 0;
}
.strip {
  position: relative;
  height: 44px;
  margin: 8px 0;
  background: var(--ghost);
}
.mark {
  position: absolute;
  inset-block: 0;
  border: 1px solid var(--ink);
  background: var(--g-3);
}
.mark.rest {
  background: var(--surface);
  border-style: dashed;
}
.next {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 20px;
  align-items: center;
}
.mm {
  font-size: 32px;
  font-variant-numeric: tabular-nums;
}
.marks {
  columns: 2 220px;
  padding-left: 24px;
}
</style>
