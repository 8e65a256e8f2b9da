<script setup lang="ts">
// One product: its weeks against what was expected, its days, and one touch to make it the demand of the price book.
import { computed, reactive, watch } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import ChartFrame from '../charts/ChartFrame.vue'
import FormField from '../components/FormField.vue'
import UnitToggle from '../components/UnitToggle.vue'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { plainDay } from '../words/shown'
import { soldChart, soldPoints, soldWords } from './soldChart'
import { useDemands, type useSales } from './useSales'

const props = defineProps<{
  product: S['SoldProduct']
  monday: string
  season: string
  asDemand: ReturnType<typeof useSales>['asDemand']
}>()
const { mass, money, unit } = useShop()
const { may } = useMe()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const points = computed(() => soldPoints(props.product, props.monday))
const option = computed(() => soldChart(points.value))
const days = [say('Mon'), say('Tue'), say('Wed'), say('Thu'), say('Fri'), say('Sat'), say('Sun')]
const { data: demands } = useDemands()
const now = computed(() => demands.value?.find((d) => d.product_key === props.product.key && d.season === props.season))
/** What holds now: that of the season before that of the whole year. */
const stands = computed(
  () => now.value ?? demands.value?.find((d) => d.product_key === props.product.key && d.season === ''),
)
const cautions = { low_g: say('Cautious'), mean_g: say('Likely'), high_g: say('At most') }
const form = reactive({ take: 'mean_g', rest: '' })
watch(stands, (d) => d && !form.rest && (form.rest = d.fallback), { immediate: true })
const week = computed(() => props.product[form.take as keyof typeof cautions])
const typed = (g: number) => (unit.value === 'lb' ? (g / 453.59237).toFixed(2) : (g / 1000).toFixed(2))
const keep = () =>
  attempt(async () => {
    const was = now.value
    const send = (weight: string, rest: string, version: number) =>
      props.asDemand({
        product_key: props.product.key,
        season: props.season,
        week: weight,
        unit: unit.value,
        fallback: rest,
        version,
      })
    await send(typed(week.value), form.rest, was?.version ?? 0)
    const back = was ? () => send(typed(was.week_g), was.fallback, was.version + 1) : () => send('', '', 1)
    const when = props.season ? say` in ${props.season}` : ''
    done(say`${props.product.name}: ${mass(week.value, 1)} a week is its demand now${when}.`, back)
  })
</script>

<template>
  <div class="product">
    <ChartFrame
      :option="option"
      :label="say`Packs of ${product.name} by week`"
      :points="points.map(soldWords)"
      :height="190"
      :file="`sold-${product.key.replace(/\W/g, '-')}`"
      >Points are packs sold in a week; dashed boxes are what the weeks before it let expect, four times of five. The
      last is the week of {{ plainDay(monday) }}.
      <template #table
        ><table v-wide>
          <thead>
            <tr>
              <th>Week of</th>
              <th class="n">Packs</th>
              <th class="n">Expected</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="p in points" :key="p.name">
              <td>{{ p.name }}</td>
              <td class="n">{{ p.packs ?? '–' }}</td>
              <td class="n">{{ p.low === undefined ? '–' : say`${p.low} to ${p.high}` }}</td>
            </tr>
          </tbody>
        </table></template
      ></ChartFrame
    >
    <table v-wide class="days">
      <caption>
        Packs on a day of the week
      </caption>
      <thead>
        <tr>
          <th v-for="d in days" :key="d" class="n">{{ d }}</th>
        </tr>
      </thead>
      <tbody>
        <tr>
          <td v-for="(d, i) in product.weekdays" :key="i" class="n">
            {{ d.mean.toFixed(1) }} <span class="small">{{ d.low }}–{{ d.high }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="small">
      A pack weighs {{ mass(product.pack_g) }}. In four weeks {{ counted(product.packs, 'pack') }}:
      {{ mass(product.sold_g, 1) }} at full price, {{ mass(product.reduced_g, 1) }} reduced,
      {{ mass(product.returned_g, 1) }} brought back, {{ mass(product.wasted_g, 1) }} thrown away.
      <template v-if="stands">
        Its demand stands at {{ mass(stands.week_g, 1) }} a week, the rest at {{ money(stands.fallback) }} a
        kg.</template
      >
    </p>
    <form
      v-if="may('PUT /demands')"
      class="row"
      novalidate
      :aria-label="say`Demand of ${product.name}`"
      @submit.prevent="keep"
    >
      <UnitToggle v-model="form.take" :options="Object.keys(cautions)" :names="cautions" label="How much sells" />
      <FormField
        :id="`rest-${product.key}`"
        label="What does not sell brings, a kg"
        :fault="problem?.at('fallback') ?? ''"
        ><InputText :id="`rest-${product.key}`" v-model="form.rest" inputmode="decimal" autocomplete="off"
      /></FormField>
      <PvButton
        type="submit"
        :label="say`${mass(week, 1)} a week is its demand`"
        :loading="busy"
        :disabled="!form.rest.trim()"
        data-test="as-demand"
      />
    </form>
    <p v-if="problem?.rest(['fallback'])" class="fault" role="alert">{{ problem.rest(['fallback']) }}</p>
  </div>
</template>

<style scoped>
.product {
  padding: 8px 0 14px;
  /* a chart must not hold the list as wide as it once was */
  width: 0;
  min-width: 100%;
}
.row {
  flex-wrap: wrap;
  align-items: end;
  gap: 14px;
}
.days {
  max-width: 720px;
}
</style>
