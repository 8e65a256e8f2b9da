<script setup lang="ts">
// A recipe for what there is: amounts, cost, pieces, and what its label must say.
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import { keyOf } from '../api/keys'
import FormField from '../components/FormField.vue'
import { data, GET, type S } from '../api/client'
import { asProblem } from '../api/problem'
import { amountText } from '../goods/tubWords'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { percent } from '../words/shown'
import { typedMass } from '../words/typed'

const props = defineProps<{ recipe: S['Recipe'] }>()
const { unit, mass, money } = useShop()
const weight = ref('10')
const asked = computed(() => typedMass(weight.value))
const { data: r, error } = useQuery({
  queryKey: computed(() => keyOf('recipes', 'scaled', props.recipe.id, props.recipe.version, asked.value)),
  placeholderData: (old) => old,
  retry: false,
  queryFn: () =>
    data(
      GET('/recipes/{recipe_id}/scaled', {
        params: {
          path: { recipe_id: props.recipe.id },
          query: { weight: asked.value.number, unit: asked.value.unit ?? unit.value },
        },
      }),
    ),
})
const fault = computed(() => (error.value ? asProblem(error.value).at('weight') || asProblem(error.value).message : ''))
</script>

<template>
  <div class="scale">
    <FormField
      id="scale-weight"
      :label="recipe.meat_g ? say`For so much meat, ${unit}` : say`To make, ${unit}`"
      :fault="fault"
      ><InputText id="scale-weight" v-model="weight" inputmode="decimal" :invalid="!!fault" autocomplete="off"
    /></FormField>
    <div v-if="r && !fault" class="stack">
      <p data-test="scaled">
        <strong>{{ mass(r.out_g, 2) }}</strong>{{ r.pieces ? `, ${counted(r.pieces, 'piece')}` : '' }} come of
        {{ mass(r.in_g, 2) }}.
        <template v-if="r.amounts.length">What goes in beside the meat costs {{ money(r.cost) }}.</template>
        <template v-if="r.salt_g_per_kg">Salt: {{ r.salt_g_per_kg }} g a kilogram.</template>
      </p>
      <table v-if="r.amounts.length" v-wide>
        <tbody>
          <tr v-if="r.meat_g">
            <td>Meat</td>
            <td class="n">{{ mass(r.meat_g, 2) }}</td>
            <td class="n" />
          </tr>
          <tr v-for="a in r.amounts" :key="a.key">
            <td>{{ a.name }}</td>
            <td class="n">{{ amountText(a.amount, a.unit) }}</td>
            <td class="n">{{ a.cost ? money(a.cost) : say('no price') }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="r.label.length" class="small">
        Label:
        <template v-for="(p, i) in r.label" :key="p.name"
          >{{ i ? ', ' : '' }}<strong v-if="p.allergen">{{ p.name }}</strong
          ><template v-else>{{ p.name }}</template
          >{{ p.meat ? ` (${percent(p.pct, 0)})` : '' }}</template
        >.<template v-if="r.allergens.length"> Contains: {{ r.allergens.join(', ') }}.</template>
      </p>
    </div>
  </div>
</template>

<style scoped>
.scale {
  display: grid;
  grid-template-columns: 180px minmax(0, 1fr);
  gap: 24px;
  align-items: start;
}
@media (max-width: 700px) {
  .scale {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
