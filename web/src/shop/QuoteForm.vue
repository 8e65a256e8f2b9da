<script setup lang="ts">
// A price on this market: in a season or the whole year, from a day on, by weight or by the piece.
import { reactive } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import { typedDay, typedNumber } from '../words/typed'
import { data, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import DayPick from '../components/DayPick.vue'
import PickOne from '../components/PickOne.vue'
import { say } from '../words/say'

const props = defineProps<{ book: S['PriceBook'] }>()
const emit = defineEmits<{ done: [string] }>()
const queries = useQueryClient()
const { busy, problem, attempt } = useAttempt()
const form = reactive({
  key: '',
  season: '',
  from: props.book.day,
  price: '',
  per: 'kg' as 'kg' | 'lb' | 'piece',
  piece: '',
})
const fault = (f: string) => problem.value?.at(f) ?? ''
const set = () =>
  attempt(async () => {
    const same = props.book.quotes.find(
      (q) => q.product_key === form.key && q.season === form.season && q.valid_from === typedDay(form.from),
    )
    await data(
      PUT('/quotes', {
        body: {
          market: props.book.market!,
          product_key: form.key,
          season: form.season,
          valid_from: typedDay(form.from) || form.from,
          price: form.price,
          per: form.per,
          version: same?.version ?? 0,
          ...(form.per === 'piece' && form.piece.trim() && { piece_g: typedNumber(form.piece) }),
        },
      }),
    )
    await queries.invalidateQueries()
    emit('done', say`${props.book.rows.find((r) => r.product.key === form.key)?.product.name}: set.`)
    form.price = ''
  })
</script>

<template>
  <form class="quote no-print" novalidate aria-label="A price on this market" @submit.prevent="set">
    <FormField id="q-key" label="Product" :fault="fault('product_key')"
      ><PickOne id="q-key" v-model="form.key" :options="book.rows" by="product.key" called="product.name" none="choose"
    /></FormField>
    <FormField id="q-season" label="Season" :fault="fault('season')"
      ><PickOne id="q-season" v-model="form.season" :options="book.seasons" by="name" none="the whole year"
    /></FormField>
    <FormField id="q-from" label="From" :fault="fault('valid_from')"
      ><DayPick id="q-from" v-model="form.from" :invalid="!!fault('valid_from')"
    /></FormField>
    <FormField id="q-price" label="Price" :fault="fault('price')"
      ><InputText id="q-price" v-model="form.price" inputmode="decimal" :invalid="!!fault('price')" autocomplete="off"
    /></FormField>
    <FormField id="q-per" label="a" :fault="fault('per')"
      ><PickOne
        id="q-per"
        v-model="form.per"
        :options="[
          { id: 'kg', name: 'kg' },
          { id: 'lb', name: 'lb' },
          { id: 'piece', name: 'piece' },
        ]"
    /></FormField>
    <FormField
      v-if="form.per === 'piece'"
      id="q-piece"
      label="One weighs, g"
      :fault="fault('piece_g')"
      hint="Empty: its usual portion."
      ><InputText
        id="q-piece"
        v-model="form.piece"
        inputmode="decimal"
        :invalid="!!fault('piece_g')"
        autocomplete="off"
    /></FormField>
    <PvButton type="submit" label="Set it" :disabled="busy || !form.key" />
    <p
      v-if="problem?.rest(['product_key', 'season', 'valid_from', 'price', 'per', 'piece_g'])"
      class="fault"
      role="alert"
    >
      {{ problem.rest(['product_key', 'season', 'valid_from', 'price', 'per', 'piece_g']) }}
    </p>
  </form>
</template>

<style scoped>
.quote {
  display: flex;
  gap: 10px 14px;
  flex-wrap: wrap;
  align-items: flex-end;
  margin: 10px 0;
}
.quote :deep(.p-inputtext) {
  width: 120px;
}
</style>
