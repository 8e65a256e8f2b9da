<script setup lang="ts">
// What the shop adds to meat: its price, its allergens, and which plans ask for it.
import { computed, ref } from 'vue'
import PvButton from 'primevue/button'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import StateNote from '../components/StateNote.vue'
import { type S } from '../api/client'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import IngredientForm from './IngredientForm.vue'
import { useIngredients } from './ingredientQueries'

type Row = S['Ingredient']
const { data: list, error, isLoading, refetch } = useIngredients()
const { may } = useMe()
const { money } = useShop()
const opened = ref('')
const mayChange = computed(() => may('POST /ingredients'))

const keyOf = (i: Row) => i.key + i.version
const groups = [say('Asked for by plans, not in the shop yet'), say('In use'), say('Out of use')]
const groupOf = (i: Row) => groups[i.missing ? 0 : i.retired ? 2 : 1]!
const rows = computed(() => groups.flatMap((g) => list.value?.ingredients.filter((i) => groupOf(i) === g) ?? []))
const allergensOf = (i: Row) =>
  list.value?.allergens
    .filter((a) => i.allergens.includes(a.id))
    .map((a) => a.name.toLowerCase())
    .join(', ') || '–'
const priceOf = (i: Row) => (i.price === undefined ? '–' : `${money(i.price)} / ${i.unit}`)
const sentence = computed(() => {
  const here = rows.value.filter((i) => !i.retired && !i.missing)
  const unpriced = here.filter((i) => i.price === undefined).length
  const asked = rows.value.filter((i) => i.missing).length
  return [
    say`${counted(here.length, 'ingredient', 'ingredients')} in use.`,
    unpriced > 0 && say`${counted(unpriced, 'has', 'have')} no price: what is made with it looks cheaper than it is.`,
    asked > 0 && say`Plans ask for ${counted(asked, 'more', 'more')}.`,
  ]
    .filter(Boolean)
    .join(' ')
})
const columns: ListColumn<Row>[] = [
  { id: 'name', head: say('Ingredient'), by: (i) => i.name },
  { id: 'price', head: say('Price'), by: (i) => Number(i.price ?? -1), number: true, whole: true },
  { id: 'allergens', head: say('Allergens') },
  { id: 'supplier', head: say('Supplier'), by: (i) => i.supplier },
  { id: 'used', head: say('Added by') },
  { id: 'change', head: say('Change'), number: true },
]
const toggle = (i: Row) => (opened.value = opened.value === keyOf(i) ? '' : keyOf(i))
</script>

<template>
  <StateNote :error="error" :loading="isLoading" what="the ingredients" @retry="refetch()" />
  <template v-if="list">
    <p class="sentence lead">{{ sentence }}</p>
    <ListTable
      :rows="rows"
      :columns="columns"
      :row-key="keyOf"
      :group="groupOf"
      :opened="opened"
      label="Ingredients"
      empty="Nothing is added to meat here yet. Stuffing, spice, net and string go below."
    >
      <template #name="{ row: i }"
        ><strong>{{ i.name }}</strong></template
      >
      <template #price="{ row: i }">{{ priceOf(i) }}</template>
      <template #allergens="{ row: i }">{{ allergensOf(i) }}</template>
      <template #supplier="{ row: i }">{{ i.supplier || '–' }}</template>
      <template #used="{ row: i }">{{ i.used_in.join(', ') || '–' }}</template>
      <template #change="{ row: i }"
        ><PvButton
          v-if="mayChange"
          text
          :label="opened === keyOf(i) ? say('Close') : i.missing ? say('Add') : say('Change')"
          :aria-expanded="opened === keyOf(i)"
          :aria-label="`${opened === keyOf(i) ? say('Close') : i.missing ? say('Add') : say('Change')} ${i.name}`"
          @click="toggle(i)"
      /></template>
      <template #opened="{ row: i }"
        ><div class="opened"><IngredientForm :list="list" :ingredient="i" @saved="opened = ''" /></div
      ></template>
    </ListTable>
    <section v-if="mayChange" class="new">
      <h2>New ingredient</h2>
      <IngredientForm :list="list" />
    </section>
    <p class="small">
      Name on the label what is in it: the allergens here are the fourteen of EU law. Check your local rules, and the
      supplier’s own sheet.
    </p>
  </template>
</template>

<style scoped>
.lead {
  margin-bottom: 14px;
}
.opened {
  background: var(--surface);
  padding: 14px 16px;
}
.new {
  margin: 28px 0 18px;
  display: flex;
  flex-direction: column;
  gap: 12px;
}
</style>
