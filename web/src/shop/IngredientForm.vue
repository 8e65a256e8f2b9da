<script setup lang="ts">
// One ingredient: what it is called, what one of its unit costs, and the allergens that it brings.
import { reactive, watch } from 'vue'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import { type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useShop } from '../shell/shop'
import { useSaveIngredient } from './ingredientQueries'
import { say } from '../words/say'

const props = defineProps<{ list: S['IngredientList']; ingredient?: S['Ingredient'] }>()
const emit = defineEmits<{ saved: [] }>()
const { shop } = useShop()
const { busy, problem, attempt } = useAttempt()
const { done } = useFeedback()
const save = useSaveIngredient()
const blank = () => ({ name: '', unit: 'kg', price: '', allergens: [] as string[], supplier: '', note: '' })
const form = reactive({ ...blank(), ...given(props.ingredient) })
watch(form, () => (problem.value = undefined))

const fields = ['name', 'unit', 'price', 'supplier', 'note', 'allergens']
const fault = (f: string) => problem.value?.at(f) ?? ''
const id = (f: string) => `ingredient-${props.ingredient?.key ?? 'new'}-${f}`
const unitName = (u: string) => ({ kg: say('kilogram'), litre: say('litre'), m: say('metre'), piece: 'piece' })[u] ?? u

function given(i?: S['Ingredient']) {
  if (!i) return {}
  const { name, unit, price, allergens, supplier, note } = i
  return { name, unit: unit || 'kg', price: price ?? '', allergens: [...allergens], supplier, note }
}

const keep = (retired: boolean) =>
  attempt(async () => {
    const i = props.ingredient
    await save.mutateAsync({
      id: i?.id ?? '',
      draft: { ...form, retired, version: i?.version ?? 0, ...(i?.missing && { key: i.key }) },
    })
    done(retired ? say`${form.name} is out of use.` : say`${form.name}: saved.`)
    if (!i) Object.assign(form, blank())
    emit('saved')
  })
</script>

<template>
  <form
    novalidate
    :aria-label="ingredient ? say`Change ${ingredient.name}` : say('New ingredient')"
    @submit.prevent="keep(false)"
  >
    <div class="grid">
      <FormField :id="id('name')" label="Name" :fault="fault('name')"
        ><InputText :id="id('name')" v-model="form.name" :invalid="!!fault('name')" autocomplete="off"
      /></FormField>
      <FormField :id="id('unit')" label="Bought by the" :fault="fault('unit')"
        ><PickOne :id="id('unit')" v-model="form.unit" :options="list.units" :called="unitName"
      /></FormField>
      <FormField
        :id="id('price')"
        :label="say`Price of a ${unitName(form.unit)}, ${shop?.currency ?? ''}`"
        hint="Empty where you do not know it"
        :fault="fault('price')"
        ><InputText
          :id="id('price')"
          v-model="form.price"
          inputmode="decimal"
          :invalid="!!fault('price')"
          autocomplete="off"
      /></FormField>
      <FormField :id="id('supplier')" label="Supplier" :fault="fault('supplier')"
        ><InputText :id="id('supplier')" v-model="form.supplier" :invalid="!!fault('supplier')" autocomplete="off"
      /></FormField>
    </div>
    <fieldset>
      <legend>Allergens that it brings</legend>
      <label v-for="a in list.allergens" :key="a.id" :for="id(a.id)"
        ><Checkbox v-model="form.allergens" :input-id="id(a.id)" :value="a.id" /> {{ a.name }}</label
      >
    </fieldset>
    <FormField :id="id('note')" label="Note" :fault="fault('note')"
      ><InputText :id="id('note')" v-model="form.note" :invalid="!!fault('note')" autocomplete="off"
    /></FormField>
    <p v-if="problem?.rest(fields)" class="fault" role="alert">{{ problem.rest(fields) }}</p>
    <div class="row">
      <PvButton type="submit" :label="ingredient && !ingredient.missing ? say('Save') : say('Add')" :loading="busy" />
      <PvButton
        v-if="ingredient && !ingredient.missing && !ingredient.retired"
        text
        label="Take out of use"
        :disabled="busy"
        @click="keep(true)"
      />
    </div>
  </form>
</template>

<style scoped>
form {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.grid {
  display: grid;
  grid-template-columns: 1.4fr 150px 210px 1fr;
  gap: 14px;
  align-items: start;
}
fieldset {
  border: 1px solid var(--hairline);
  padding: 8px 14px 12px;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 0 14px;
}
label {
  display: flex;
  align-items: center;
  gap: 10px;
  min-height: 44px;
}
@media (max-width: 900px) {
  .grid {
    grid-template-columns: 1fr;
  }
}
</style>
