<script setup lang="ts">
// One product of a plan: what it is, how thick or how heavy, and its price.
import PvButton from 'primevue/button'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { shortName } from '../words/shown'
import PriceCell from '../stages/plan/PriceCell.vue'
import { useMe } from '../shell/me'
import type { DraftProduct } from './draft'
import PickOne from '../components/PickOne.vue'
import { portionWords } from './portions'
import { say } from '../words/say'

const props = defineProps<{
  index: number
  forms: string[]
  methods: S['Method'][]
  known?: S['Price']
  made?: S['OutputRow']
  fault: (field: string) => string
}>()
const row = defineModel<DraftProduct>({ required: true })
const emit = defineEmits<{ drop: []; priced: [] }>()
const { bare, mass, money, unit } = useShop()
const { may } = useMe()
const id = (f: string) => `product-${props.index}-${f}`
const formName = (f: string) => f.replace(/_/g, ' ')
const faults = () =>
  ['name', 'form', 'cook', 'thickness_mm', 'portion_g', 'count_high', 'from'].map(props.fault).filter(Boolean).join(' ')
const price = () =>
  props.known && {
    key: props.known.key,
    name: props.known.name,
    ...(props.known.price && { price: props.known.price, price_per: props.known.per }),
    price_version: props.known.version,
  }
</script>

<template>
  <fieldset class="product" :data-product="row.name">
    <legend class="vh">{{ row.name || say('New product') }}</legend>
    <div class="f name">
      <label class="label" :for="id('name')">Product</label
      ><input :id="id('name')" v-model="row.name" :readonly="!!known" :aria-invalid="!!fault('name')" />
    </div>
    <div class="f">
      <label :id="`${id('form')}-label`" class="label" :for="id('form')">Form</label
      ><PickOne :id="id('form')" v-model="row.form" :options="forms" :called="formName" :disabled="!!known" />
    </div>
    <div class="f">
      <label :id="`${id('cook')}-label`" class="label" :for="id('cook')">Cooked</label
      ><PickOne :id="id('cook')" v-model="row.cook" :options="methods" none="left open" />
    </div>
    <div class="f s">
      <label class="label" :for="id('thick')">Thick, mm</label
      ><input :id="id('thick')" v-model="row.thickness" inputmode="decimal" :aria-invalid="!!fault('thickness_mm')" />
    </div>
    <div class="f s">
      <label class="label" :for="id('portion')">One weighs, g</label
      ><input :id="id('portion')" v-model="row.portion" inputmode="decimal" :aria-invalid="!!fault('portion_g')" />
    </div>
    <div class="f s">
      <label class="label" :for="id('low')">or how many</label
      ><span class="two"
        ><input :id="id('low')" v-model="row.low" inputmode="numeric" :aria-invalid="!!fault('count_high')" /><span
          aria-hidden="true"
          >–</span
        ><input
          v-model="row.high"
          inputmode="numeric"
          :aria-label="say`At most how many of ${row.name}`"
          :aria-invalid="!!fault('count_high')"
      /></span>
    </div>
    <div class="f made">
      <span class="label">Usual piece</span
      ><span
        >{{ made ? mass(made.weight_g, 2) : '–' }}
        <span class="small">{{ made ? portionWords(made, bare, unit) : '' }}</span></span
      >
    </div>
    <div class="f price">
      <span class="label">Price</span
      ><PriceCell v-if="known && may('PUT /prices/{product_key}')" :row="price()!" @priced="emit('priced')" /><span
        v-else-if="known"
        >{{ known.price ? money(known.price) : '–' }}</span
      ><span v-else class="small">once it is kept</span>
    </div>
    <PvButton text label="Remove" :aria-label="say`Remove ${shortName(row.name)}`" @click="emit('drop')" />
    <p v-if="faults()" class="fault" role="alert">{{ faults() }}</p>
  </fieldset>
</template>

<style scoped>
.product {
  border: 0;
  border-top: 1px solid var(--hairline);
  margin: 0;
  padding: 6px 0;
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: flex-end;
  min-width: 0;
}
.f {
  display: flex;
  flex-direction: column;
  gap: 2px;
  min-width: 0;
}
.f.name {
  flex: 1 1 200px;
}
.f.s input {
  width: 78px;
}
.f.made {
  width: 132px;
  min-height: 62px;
}
.f.price {
  width: 78px;
  min-height: 62px;
}
input {
  font: inherit;
  min-height: 44px;
  padding: 3px 8px;
  border: 1px solid var(--line);
  border-radius: 2px;
  background: var(--surface);
  color: var(--ink);
  width: 100%;
}
input[aria-invalid='true'] {
  border: 2px solid var(--act);
}
input[readonly] {
  color: var(--ink-2);
  background: var(--ground);
  opacity: 1;
}
.two {
  display: flex;
  align-items: center;
  gap: 2px;
}
.f.s .two input {
  width: 48px;
}
.fault {
  flex-basis: 100%;
}
</style>
