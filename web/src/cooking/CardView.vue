<script setup lang="ts">
// How a cut is cooked, for whoever eats it: open to all, by the code on its label.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRoute } from 'vue-router'
import { keyOf } from '../api/keys'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import GrainPicture from '../atlas/GrainPicture.vue'
import { data, GET } from '../api/client'
import FormField from '../components/FormField.vue'
import { Problem } from '../api/problem'
import { typedNumber } from '../words/typed'
import { useDegrees } from './degrees'
import { say } from '../words/say'

const props = defineProps<{ piece: string; product: string }>()
const route = useRoute()
/** Whose names and plan the card goes by; the atlas' where nobody says. */
const whose = computed(() =>
  Object.fromEntries(
    ['shop', 'plan'].flatMap((k) => (typeof route.query[k] === 'string' ? [[k, route.query[k]]] : [])),
  ),
)
const { system, systems, us, degrees, weight, words } = useDegrees()
/** Empty until somebody chooses: the card then opens at the least done that is safe. */
const doneness = ref('')
const eaters = ref('')
/** Grams, or pounds where °F are shown; empty for a usual piece. */
const weighs = ref('')
/** Millimetres, or inches. */
const thickness = ref('')
const way = ref('')
const treated = ref(false)
const allergens = ref<string[]>([])
const known = [
  'gluten',
  'crustaceans',
  'eggs',
  'fish',
  'peanuts',
  'soya',
  'milk',
  'nuts',
  'celery',
  'mustard',
  'sesame',
  'sulphites',
  'lupin',
  'molluscs',
]
const many = computed(() => {
  const n = Math.round(Number(eaters.value))
  return n >= 1 && n <= 500 ? n : undefined
})
const typed = (text: string) => {
  const n = typedNumber(text)
  return text.trim() && n !== undefined ? n : undefined
}
const grams = computed(() => {
  const n = typed(weighs.value)
  return n === undefined ? undefined : Math.round(n * (us.value ? 453.59237 : 1) * 10) / 10
})
const mm = computed(() => {
  const n = typed(thickness.value)
  return n === undefined ? undefined : Math.round(n * (us.value ? 25.4 : 1) * 10) / 10
})
const long = (v: number) => (us.value ? say`${(v / 25.4).toFixed(1)} in` : say`${Math.round(v)} mm`)
const query = computed(() => ({
  ...whose.value,
  ...(way.value && { way: way.value }),
  ...(grams.value !== undefined && { weight_g: grams.value }),
  ...(mm.value !== undefined && { thickness_mm: mm.value }),
  ...(doneness.value && { doneness: doneness.value }),
  ...(many.value && { diners: many.value }),
  ...(treated.value && { treated: true }),
  ...(allergens.value.length && { allergens: allergens.value.join(',') }),
}))
const {
  data: c,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('cook', props.piece, props.product, query.value)),
  placeholderData: (old) => old,
  queryFn: () =>
    data(
      GET('/cook/{atlas_id}/{product_id}', {
        params: { path: { atlas_id: props.piece, product_id: props.product }, query: query.value },
      }),
    ),
})
const fault = (f: string) => (error.value instanceof Problem ? error.value.at(f) : '')
const pdf = computed(() => {
  const asked = Object.entries(query.value).map(([k, v]) => [k, String(v)])
  const search = new URLSearchParams({ ...Object.fromEntries(asked), units: us.value ? 'us' : 'metric' })
  return `/api/v1/cook/${props.piece}/${props.product}/card.pdf?${search}`
})
</script>

<template>
  <section class="card page">
    <StateNote :error="c ? undefined : error" :loading="isLoading" what="the card" @retry="refetch()" />
    <template v-if="c">
      <p class="label">
        <template v-if="c.menu_name">{{ c.name }} · </template>{{ c.method
        }}<template v-if="c.thickness_mm"> · {{ long(c.thickness_mm) }} thick</template> · {{ c.muscles.join(', ')
        }}<template v-if="c.keeps"> · sold with {{ c.keeps }}</template>
      </p>
      <h1 class="sentence big">{{ c.menu_name ?? c.name }}: {{ weight(c.weight_g) }}, feeds {{ c.feeds }}.</h1>
      <div class="asks no-print">
        <label v-if="c.doneness_choices.length" class="ask"
          ><span class="label">How done?</span
          ><select :value="c.doneness" @change="doneness = ($event.target as HTMLSelectElement).value">
            <option v-for="d in c.doneness_choices" :key="d.id" :value="d.id">
              {{ d.name }}, {{ degrees(d.core_c) }}
            </option>
          </select></label
        >
        <label v-if="c.ways.length > 1" class="ask"
          ><span class="label">How?</span
          ><select :value="c.way" data-test="way" @change="way = ($event.target as HTMLSelectElement).value">
            <option v-for="w in c.ways" :key="w.id" :value="w.id">{{ w.name }}</option>
          </select></label
        >
        <label class="ask"
          ><span class="label">For how many?</span
          ><input v-model="eaters" inputmode="numeric" maxlength="3" :placeholder="String(c.feeds)"
        /></label>
        <FormField id="card-weight" :label="say`It weighs, ${us ? 'lb' : 'g'}`" :fault="fault('weight_g')"
          ><input
            id="card-weight"
            v-model.lazy="weighs"
            inputmode="decimal"
            :placeholder="us ? (c.weight_g / 453.59237).toFixed(2) : String(Math.round(c.weight_g))"
        /></FormField>
        <FormField
          v-if="c.thickness_mm"
          id="card-thick"
          :label="say`Thickest place, ${us ? say('in') : 'mm'}`"
          :fault="fault('thickness_mm')"
          ><input
            id="card-thick"
            v-model.lazy="thickness"
            inputmode="decimal"
            :placeholder="us ? (c.thickness_mm / 25.4).toFixed(1) : String(c.thickness_mm)"
        /></FormField>
        <UnitToggle v-model="system" :options="systems" label="Units" />
        <p v-if="c.treated_as" class="tick">It is {{ c.treated_as }}: done through.</p>
        <label v-else class="tick"
          ><input v-model="treated" type="checkbox" /> rolled, stuffed, pierced or tenderised</label
        >
      </div>
      <div class="lay">
        <ol class="steps" data-test="steps">
          <li v-for="(s, i) in c.steps" :key="i">
            <strong>{{ s.do }}</strong>{{ s.oven_c ? say` ${degrees(s.oven_c)}, gas ${s.gas}.` : ''
            }}<span v-if="s.minutes" class="min">{{ say`\u00a0${s.minutes} min` }}</span>
          </li>
        </ol>
        <aside class="stack">
          <p class="figure" data-test="centre">{{ degrees(c.core_c) }}</p>
          <p v-if="c.take_out_c < c.core_c">
            Out of the heat at <strong>{{ degrees(c.take_out_c) }}</strong>{{
              c.rest_min ? say`; it rises while it rests ${c.rest_min} minutes.` : say('; it rises while it rests.')
            }}
          </p>
          <p :class="c.below_safe ? 'fault' : 'small'" data-test="floor">{{ words(c.sentence) }}</p>
          <p v-if="c.cut_mm" data-test="cut">Cut off {{ long(c.cut_mm) }} for so much.</p>
          <ul v-if="c.lines.length" class="lines">
            <li v-for="l in c.lines" :key="l">{{ l }}</li>
          </ul>
          <template v-if="c.slice"
            ><GrainPicture v-if="c.grain" class="grain" :direction="c.grain as 'one way'" texture="medium" />
            <p>{{ c.slice }}</p></template
          >
          <details class="no-print">
            <summary>Stuffing or marinade: what it contains</summary>
            <div class="row allergens">
              <label v-for="a in known" :key="a" class="tick"
                ><input v-model="allergens" type="checkbox" :value="a" /> {{ a }}</label
              >
            </div>
          </details>
          <p v-if="c.contains.length" class="fault">
            <strong>Contains: {{ c.contains.join(', ') }}.</strong>
          </p>
        </aside>
      </div>
      <p class="small">
        Times are estimates that start you off; go by a probe in the thickest place. Keep it chilled until it is cooked,
        and raw meat apart from what is eaten raw. Local advice comes first.
      </p>
      <p class="no-print"><a :href="pdf" target="_blank">As a card to print</a></p>
    </template>
  </section>
</template>

<style scoped>
.card {
  max-width: 960px;
}
.sentence {
  margin: 8px 0 14px;
}
.asks {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  align-items: end;
  margin-bottom: 16px;
}
.ask {
  display: flex;
  flex-direction: column;
  gap: 4px;
}
select,
.asks :deep(input:not([type='checkbox'])) {
  font: inherit;
  min-height: 44px;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 10px;
  background: var(--surface);
  color: var(--ink);
}
.asks :deep(input:not([type='checkbox'])) {
  width: 110px;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  gap: 32px;
  align-items: start;
  margin-bottom: 14px;
}
.steps {
  margin: 0;
  padding-left: 30px;
  font-size: 18px;
}
.steps li {
  padding: 10px 0;
  border-bottom: 1px solid var(--hairline);
}
.steps strong {
  font-weight: 600;
}
.min {
  font-weight: 750;
  white-space: nowrap;
}
.lines {
  margin: 0 0 12px;
  padding-left: 18px;
}
.grain {
  max-width: 160px;
}
.allergens {
  gap: 2px 14px;
}
summary {
  min-height: 44px;
  display: flex;
  align-items: center;
  cursor: pointer;
}
@media (max-width: 800px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
