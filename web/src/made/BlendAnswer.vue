<script setup lang="ts">
// What the tubs become: drawn, and line by line; what one more kilogram of each would add.
import { computed } from 'vue'
import PvButton from 'primevue/button'
import ChartFrame from '../charts/ChartFrame.vue'
import type { S } from '../api/client'
import { tubName } from '../goods/tubWords'
import { useShop } from '../shell/shop'
import { percent } from '../words/shown'
import { blendChart, blendFlows } from './blendChart'
import { say } from '../words/say'

const props = defineProps<{ blend: S['Blend']; busy: boolean; mayBegin: boolean }>()
const emit = defineEmits<{ begin: [string] }>()
const { mass, money, pricePer, unit } = useShop()
const names = computed(
  () =>
    new Map<string, string>([
      ...props.blend.tubs.map((t) => [`tub/${t.tub.id}`, tubName(t.tub)] as const),
      ...props.blend.made.map((m) => [`made/${m.recipe}`, m.name] as const),
      ['left', say('Left as it is')],
    ]),
)
const name = (id: string) => names.value.get(id) ?? id
const flows = computed(() => blendFlows(props.blend))
const short = (g: number) => mass(g, 2)
const option = computed(() => blendChart(flows.value, { name, mass: short }))
const points = computed(() => flows.value.map((f) => say`${name(f.from)} to ${name(f.to)}: ${short(f.g)}`))
const into = (recipe: string) =>
  props.blend.use
    .filter((u) => u.recipe === recipe)
    .map((u) => `${short(u.g)} ${name(`tub/${u.tub}`)}`)
    .join(', ')
const made = computed(() => props.blend.made.filter((m) => m.meat_g > 0))
const unmade = computed(() => props.blend.made.filter((m) => m.meat_g <= 0))
</script>

<template>
  <section class="answer" aria-label="What the tubs become">
    <p v-if="blend.late.length" class="fault">
      Past the day until which they may be minced: {{ blend.late.join('; ') }}. Local rules decide.
    </p>
    <ChartFrame
      v-if="flows.length"
      :option="option"
      :points="points"
      :height="Math.max(220, 60 * blend.tubs.length)"
      :least="620"
      label="From the tubs to what is made of them; the tables below have the figures"
      file="blend"
    />
    <table v-wide data-test="blend-made">
      <thead>
        <tr>
          <th>Make</th>
          <th class="n">Sold, {{ unit }}</th>
          <th class="n">Fat</th>
          <th class="n">Collagen</th>
          <th v-if="!blend.cheap" class="n">Brings</th>
          <th>From</th>
          <th><span class="vh">To do</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="m in made" :key="m.recipe" :data-made="m.recipe">
          <td>
            <strong>{{ m.name }}</strong><span v-if="m.category" class="small beside">{{ m.category }}</span>
          </td>
          <td class="n">
            {{ short(m.sold_g) }}<span v-if="m.pieces" class="small beside">{{ m.pieces }} pieces</span
            ><span v-if="m.batches" class="small beside"
              >{{ m.batches }} {{ m.batches === 1 ? say('batch') : say('batches') }}</span
            >
          </td>
          <td class="n">{{ m.fat_pct === undefined ? '–' : percent(m.fat_pct) }}</td>
          <td class="n">{{ m.collagen_pct === undefined ? '–' : percent(m.collagen_pct) }}</td>
          <td v-if="!blend.cheap" class="n">{{ money(m.value) }}</td>
          <td>{{ into(m.recipe) }}</td>
          <td class="n">
            <PvButton v-if="mayBegin" label="Begin the batch" :disabled="busy" @click="emit('begin', m.recipe)" />
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="unmade.length" class="small">
      {{ unmade.map((m) => m.name).join(', ') }}: not worth it, or not possible, of these tubs.
    </p>
    <table v-wide data-test="blend-margins">
      <thead>
        <tr>
          <th>Tub</th>
          <th class="n">There is</th>
          <th class="n">Left</th>
          <th class="n">As it is</th>
          <th class="n">One more {{ unit }} would add</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="t in blend.tubs" :key="t.tub.id">
          <td>{{ tubName(t.tub) }}</td>
          <td class="n">{{ short(t.tub.left_g) }}</td>
          <td class="n">{{ short(t.left_g) }}</td>
          <td class="n">{{ t.unpriced ? say('no price') : pricePer(t.worth_per_kg) }}</td>
          <td class="n">
            <strong>{{ pricePer(t.margin_per_kg) }}</strong>
          </td>
        </tr>
      </tbody>
    </table>
    <p class="small">
      Exact{{ blend.proven ? say('; no other mix brings more') : say(', but not proven to be the best') }}. Fat and
      collagen (of the protein, a fifth of the lean) are reckoned from the tubs’ figures; a lab decides.
    </p>
  </section>
</template>

<style scoped>
.answer > * {
  margin-top: 14px;
}
.beside {
  display: block;
}
</style>
