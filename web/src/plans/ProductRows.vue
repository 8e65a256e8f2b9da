<script setup lang="ts">
// What a plan makes: its products with how thick, how many and what they cost, and another one.
import { computed, ref } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import type { S } from '../api/client'
import { newProduct, type DraftProduct } from './draft'
import ProductRow from './ProductRow.vue'

const props = defineProps<{
  list: S['PlanList']
  made: S['OutputRow'][] | undefined
  fault: (field: string) => string
}>()
const rows = defineModel<DraftProduct[]>({ required: true })
const emit = defineEmits<{ priced: [] }>()

const adding = ref('')
const offered = computed(() =>
  props.list.products.filter((p) => !rows.value.some((r) => r.name.toLowerCase() === p.name.toLowerCase())),
)
const named = (name: string) => props.list.products.find((p) => p.name.toLowerCase() === name.trim().toLowerCase())
const known = (id: string | undefined) => props.list.products.find((p) => p.key.endsWith(`.${id ?? '?'}`))
function add() {
  const row = newProduct(named(adding.value))
  row.name ||= adding.value.trim()
  rows.value.push(row)
  adding.value = ''
}
</script>

<template>
  <h2>What it becomes</h2>
  <template v-for="(r, i) in rows" :key="r.row">
    <p v-if="r.form === 'piece'" class="onward">{{ r.name }}: goes on as a piece of its own.</p>
    <ProductRow
      v-else
      v-model="rows[i]!"
      :index="i"
      :forms="list.forms"
      :methods="list.methods"
      :known="known(r.id)"
      :made="made?.find((x) => x.id === r.id)"
      :fault="(f) => fault(`products.${i}.${f}`)"
      @drop="rows.splice(i, 1)"
      @priced="emit('priced')"
    />
  </template>
  <div class="add">
    <FormField id="adding" label="Another product: one there is, or a new name"
      ><InputText
        id="adding"
        v-model="adding"
        list="products"
        autocomplete="off"
        @keydown.enter.prevent="add" /></FormField
    ><PvButton severity="secondary" label="Add it" :disabled="!adding.trim()" @click="add" />
  </div>
  <datalist id="products"><option v-for="p in offered" :key="p.key" :value="p.name" /></datalist>
</template>

<style scoped>
.onward {
  padding: 10px 0;
  border-bottom: 1px solid var(--hairline);
}
.add {
  display: flex;
  gap: 12px;
  align-items: flex-end;
  margin: 12px 0;
}
.add > :first-child {
  width: 420px;
  max-width: 100%;
}
</style>
