<script setup lang="ts">
// One recipe: what it is, what its meat must be like, what else goes in, what is lost, what it sells for.
import { computed, reactive, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf, refresh } from '../api/keys'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import { data, GET, POST, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useShop } from '../shell/shop'
import { bodyOf, formOf, numbers, unitOf } from './recipeDraft'
import { say } from '../words/say'

const props = defineProps<{ list: S['RecipeList']; recipe?: S['Recipe'] }>()
const emit = defineEmits<{ saved: [string] }>()
const { shop } = useShop()
const queries = useQueryClient()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const { data: ingredients } = useQuery({ queryKey: keyOf('ingredients'), queryFn: () => data(GET('/ingredients')) })
const form = reactive(formOf(props.recipe))
watch(form, () => (problem.value = undefined))
const meat = computed(() => props.list.kinds.find((k) => k.id === form.kind)?.meat ?? true)
const species = computed(() => props.list.sources.filter((s) => !s.id.includes('.')))
const known = computed(() => ingredients.value?.ingredients.filter((i) => !i.retired) ?? [])
const boughtBy = (key: string) => known.value.find((i) => i.key === key)?.unit ?? ''
const fault = (f: string) => problem.value?.at(f) ?? ''
const id = (f: string) => `recipe-${props.recipe?.id ?? 'new'}-${f}`
const shown = computed(() => numbers.filter((n) => meat.value || !n.meat))

const keep = (retired: boolean) =>
  attempt(async () => {
    const body = {
      name: form.name,
      price: form.price,
      ingredient_key: form.key,
      retired,
      version: props.recipe?.version ?? 0,
      body: bodyOf(form, meat.value, boughtBy),
    }
    const saved = props.recipe
      ? await data(PUT('/recipes/{recipe_id}', { params: { path: { recipe_id: props.recipe.id } }, body }))
      : await data(POST('/recipes', { body }))
    await refresh(queries, 'recipes', 'ingredients', 'blend')
    done(retired ? say`${saved.name} is out of use.` : say`${saved.name}: saved.`)
    if (!props.recipe) Object.assign(form, formOf())
    emit('saved', saved.id)
  })
const rest = computed(
  () =>
    problem.value?.rest([
      'name',
      'price',
      'kind',
      'category',
      'ingredient_key',
      ...numbers.map((n) => n.id),
      ...form.lines.flatMap((_, i) => [`lines[${i}].ingredient`, `lines[${i}].per_kg`]),
      ...form.shares.map((_, i) => `shares[${i}].of`),
    ]) ?? '',
)
</script>

<template>
  <form novalidate :aria-label="recipe ? say`Change ${recipe.name}` : say('New recipe')" @submit.prevent="keep(false)">
    <div class="grid">
      <FormField :id="id('name')" label="Name" :fault="fault('name')"
        ><InputText :id="id('name')" v-model="form.name" :invalid="!!fault('name')" autocomplete="off"
      /></FormField>
      <FormField :id="id('kind')" label="Kind" :fault="fault('kind')"
        ><PickOne :id="id('kind')" v-model="form.kind" :options="list.kinds"
      /></FormField>
      <FormField :id="id('price')" :label="say`Sold at, ${shop?.currency ?? ''} a kg`" :fault="fault('price')"
        ><InputText
          :id="id('price')"
          v-model="form.price"
          inputmode="decimal"
          :invalid="!!fault('price')"
          autocomplete="off"
      /></FormField>
      <FormField v-if="meat" :id="id('species')" label="Meat of"
        ><PickOne :id="id('species')" v-model="form.species" :options="species" none="any animal"
      /></FormField>
      <FormField v-if="meat" :id="id('category')" label="Sold by the law’s name" :fault="fault('category')"
        ><PickOne
          :id="id('category')"
          v-model="form.category"
          :options="list.categories"
          :called="(c: S['Category']) => say`${c.name} (${c.market.toUpperCase()}, ${c.fat_max_pct} % fat)`"
          none="none"
      /></FormField>
      <FormField
        v-if="!meat"
        :id="id('key')"
        label="Is this ingredient of your plans"
        hint="Its key, such as stuffing; empty where it is none"
        :fault="fault('ingredient_key')"
        ><InputText :id="id('key')" v-model="form.key" autocomplete="off"
      /></FormField>
      <FormField
        v-for="n in shown"
        :id="id(n.id)"
        :key="n.id"
        :label="n.label"
        :hint="n.hint ?? ''"
        :fault="fault(n.id)"
        ><InputText
          :id="id(n.id)"
          v-model="form.numbers[n.id]"
          inputmode="decimal"
          :invalid="!!fault(n.id)"
          autocomplete="off"
      /></FormField>
    </div>
    <fieldset v-if="meat">
      <legend>Where its meat comes from</legend>
      <div v-for="(s, i) in form.shares" :key="i" class="line">
        <PickOne v-model="s.of" :options="list.sources" :label="say`Source ${i + 1}`" />
        <label class="small"
          >at least
          <InputText v-model="s.least" inputmode="decimal" :aria-label="say`Least of source ${i + 1}, %`" /> %</label
        >
        <label class="small"
          >at most
          <InputText v-model="s.most" inputmode="decimal" :aria-label="say`Most of source ${i + 1}, %`" /> %</label
        >
        <PvButton text label="Leave it out" @click="form.shares.splice(i, 1)" />
        <p v-if="fault(`shares[${i}].of`)" class="fault" role="alert">{{ fault(`shares[${i}].of`) }}</p>
      </div>
      <PvButton
        text
        label="Bound a source"
        @click="form.shares.push({ of: list.sources[0]?.id ?? '', least: '', most: '' })"
      />
    </fieldset>
    <fieldset>
      <legend>What else goes in, per kilogram of {{ meat ? say('meat') : say('what is made') }}</legend>
      <div v-for="(l, i) in form.lines" :key="i" class="line">
        <PickOne v-model="l.ingredient" :options="known" by="key" :label="say`Ingredient ${i + 1}`" />
        <InputText v-model="l.per" inputmode="decimal" :aria-label="say`Amount of ingredient ${i + 1}`" /><span
          class="small"
          >{{ unitOf(boughtBy(l.ingredient)) }}</span
        >
        <PvButton text label="Leave it out" @click="form.lines.splice(i, 1)" />
        <p v-if="fault(`lines[${i}].ingredient`) || fault(`lines[${i}].per_kg`)" class="fault" role="alert">
          {{ fault(`lines[${i}].ingredient`) || fault(`lines[${i}].per_kg`) }}
        </p>
      </div>
      <PvButton text label="Add an ingredient" @click="form.lines.push({ ingredient: '', per: '' })" />
    </fieldset>
    <p v-if="rest" class="fault" role="alert">{{ rest }}</p>
    <div class="row">
      <PvButton type="submit" :label="recipe ? say('Save') : say('Add')" :loading="busy" />
      <PvButton v-if="recipe && !recipe.retired" text label="Take out of use" :disabled="busy" @click="keep(true)" />
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
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 14px;
  align-items: start;
}
fieldset {
  border: 1px solid var(--hairline);
  padding: 8px 14px 12px;
  display: flex;
  flex-direction: column;
  align-items: start;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
  min-height: 52px;
}
.line :deep(input.p-inputtext) {
  width: 90px;
}
</style>
