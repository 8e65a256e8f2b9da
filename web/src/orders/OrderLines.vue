<script setup lang="ts">
// The lines of an order: product, how much in all or in each pack, at which price.
import { computed } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import PickOne from '../components/PickOne.vue'
import type { Problem } from '../api/problem'
import { useShop } from '../shell/shop'
import { emptyLine, type LineDraft } from './orderDraft'
import { useOrderProducts } from './useOrders'
import { say } from '../words/say'

const props = defineProps<{ problem?: Problem }>()
const lines = defineModel<LineDraft[]>({ required: true })
const { unit, pricePer } = useShop()
const { data: products } = useOrderProducts()
const choices = computed(() =>
  (products.value ?? []).map((p) => ({ key: p.key, name: p.species ? `${p.name}, ${p.species}` : p.name })),
)
const priceOf = (key: string) => products.value?.find((p) => p.key === key)?.price_per_kg
const fields = ['product_key', 'weight', 'packs', 'pieces', 'price', 'note']
const faultOf = (i: number) =>
  fields
    .map((f) => props.problem?.at(`lines[${i}].${f}`))
    .concat(props.problem?.at(`lines[${i}]`))
    .filter(Boolean)
    .join(' ')
const wrong = (i: number, f: string) => !!props.problem?.at(`lines[${i}].${f}`)
</script>

<template>
  <fieldset>
    <legend>What is wanted</legend>
    <div v-for="(l, i) in lines" :key="i" class="line" :data-line="i">
      <label class="what"
        ><span class="label">Product</span
        ><PickOne
          v-model="l.key"
          :options="choices"
          by="key"
          none="choose a product"
          :label="say`Product of line ${i + 1}`"
          :invalid="wrong(i, 'product_key')"
      /></label>
      <label
        ><span class="label">{{ Number(l.packs) > 0 ? say`Each pack, ${unit}` : say`Weight, ${unit}` }}</span
        ><InputText v-model="l.weight" inputmode="decimal" :invalid="wrong(i, 'weight')" autocomplete="off"
      /></label>
      <label
        ><span class="label">Packs</span
        ><InputText v-model="l.packs" inputmode="numeric" :invalid="wrong(i, 'packs')" autocomplete="off"
      /></label>
      <label
        ><span class="label">Pieces in each</span
        ><InputText v-model="l.pieces" inputmode="numeric" :invalid="wrong(i, 'pieces')" autocomplete="off"
      /></label>
      <label
        ><span class="label">Agreed, a kilogram</span
        ><InputText
          v-model="l.price"
          inputmode="decimal"
          :placeholder="priceOf(l.key) ? pricePer(priceOf(l.key)!) : ''"
          :invalid="wrong(i, 'price')"
          autocomplete="off"
      /></label>
      <label class="wish"
        ><span class="label">Wish</span
        ><InputText v-model="l.note" :invalid="wrong(i, 'note')" autocomplete="off" /></label
      ><PvButton
        v-if="lines.length > 1"
        text
        label="Leave it out"
        :aria-label="say`Leave line ${i + 1} out`"
        @click="lines.splice(i, 1)"
      />
      <p v-if="faultOf(i)" class="fault" role="alert">{{ faultOf(i) }}</p>
    </div>
    <PvButton text label="Add a line" @click="lines.push(emptyLine())" />
    <p v-if="problem?.at('lines')" class="fault" role="alert">{{ problem.at('lines') }}</p>
  </fieldset>
</template>

<style scoped>
fieldset {
  border: 0;
  margin: 0;
  padding: 0;
  display: flex;
  flex-direction: column;
  align-items: start;
  gap: 12px;
}
legend {
  padding: 0;
  font-weight: 650;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 12px;
  align-items: end;
  border-top: 1px solid var(--hairline);
  padding-top: 10px;
  width: 100%;
}
label {
  display: flex;
  flex-direction: column;
  gap: 4px;
  width: 108px;
}
.what {
  width: 266px;
  max-width: 100%;
}
.wish {
  width: 190px;
}
.fault {
  width: 100%;
}
</style>
