<script setup lang="ts">
// What can be offered in the place of a product: cheaper on the plate, and as sure to eat as well by the same method.
import { computed } from 'vue'
import FormField from '../components/FormField.vue'
import PickOne from '../components/PickOne.vue'
import StateNote from '../components/StateNote.vue'
import { useAddressForm } from '../components/useAddressForm'
import type { S } from '../api/client'
import { asProblem } from '../api/problem'
import { useCardPath } from '../cooking/useCardPath'
import { useOrderProducts } from '../orders/useOrders'
import { useShop } from '../shell/shop'
import { useInstead } from './useCounter'
import { say } from '../words/say'

const { mass, money, pricePer } = useShop()
const { cardPath } = useCardPath()
const form = useAddressForm({ of: '', method: '', there: '' })
const { data: products, error: failed, isLoading: loading, refetch: again } = useOrderProducts()
const choices = computed(() => (products.value ?? []).map((p) => ({ id: p.key, name: `${p.name}, ${p.species}` })))
const ask = computed(() =>
  form.of ? { product_key: form.of, ...(form.method && { method: form.method }) } : undefined,
)
const { data: found, error, isLoading, refetch } = useInstead(ask)
const refused = computed(() => (error.value ? asProblem(error.value) : undefined))
const v = computed(() => (ask.value && !refused.value ? found.value : undefined))
function choose(key: string) {
  form.of = key
  form.method = ''
}
const sentence = computed(() => {
  if (!v.value) return say('Instead of')
  const best = list.value[0]
  if (!best) return say`Nothing cheaper is as sure to eat as well as ${name(v.value.of)}.`
  return (
    say`Instead of ${name(v.value.of)}: ${name(best)}, ` +
    say`${money(best.plate)} a plate instead of ${money(v.value.of.plate)}.`
  )
})
const name = (t: S['InsteadThing']) => t.menu_name ?? t.name
const list = computed(() => (v.value?.list ?? []).filter((t) => !form.there || t.stock_g > 0))
const rows = computed(() => (v.value ? [v.value.of, ...list.value] : []))
const basis = (t: S['InsteadThing']) => (t.assessors ? `${t.basis}, n = ${t.assessors}` : t.basis)
const words = computed(() => {
  if (!refused.value) return ''
  return refused.value.status === 404
    ? say('This is not the meat of one muscle: there is no grade to hold others against.')
    : refused.value.errors.map((e) => `${e.message} ${e.hint ?? ''}`).join(' ') || refused.value.message
})
</script>

<template>
  <section class="page">
    <h1 class="sentence" data-test="instead-sentence">{{ sentence }}</h1>
    <StateNote :error="failed" :loading="loading" what="the products" @retry="again()" />
    <form class="row" novalidate aria-label="Instead of what" @submit.prevent>
      <FormField id="instead-of" label="Somebody asks for"
        ><PickOne
          id="instead-of"
          :model-value="form.of"
          :options="choices"
          none="choose a product"
          @update:model-value="choose($event ?? '')"
      /></FormField>
      <FormField v-if="v" id="instead-method" label="Cooked by"
        ><PickOne
          id="instead-method"
          :model-value="v.method"
          :options="v.methods"
          @update:model-value="form.method = $event ?? ''"
      /></FormField>
      <label v-if="v" class="tick"
        ><input v-model="form.there" type="checkbox" true-value="1" false-value="" /> only what lies in stock</label
      >
    </form>
    <p v-if="words" class="fault" role="alert">{{ words }}</p>
    <StateNote v-else :error="error" :loading="isLoading" what="what can be offered" @retry="refetch()" />
    <div v-if="v" v-wide class="scroll">
      <table v-wide data-test="instead">
        <thead>
          <tr>
            <th>Offer</th>
            <th>Muscle</th>
            <th class="n">Price</th>
            <th class="n">To eat</th>
            <th class="n">A plate</th>
            <th class="n">At least</th>
            <th class="n">Most likely</th>
            <th class="n">In stock</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(t, i) in rows" :key="t.key" :class="{ asked: !i }">
            <td>
              <a :href="cardPath(t.atlas_id, t.product_id)" target="_blank">{{ name(t) }}</a>
              <span class="small">{{ t.species }}{{ i ? '' : say(', asked for') }}</span>
            </td>
            <td>{{ t.muscle }}</td>
            <td class="n">{{ money(t.price) }}/{{ t.price_per }}</td>
            <td class="n">{{ pricePer(t.edible_per_kg) }}</td>
            <td class="n">
              <strong>{{ money(t.plate) }}</strong>
            </td>
            <td class="n">{{ t.low.toFixed(0) }}</td>
            <td class="n">
              {{ t.mean.toFixed(0) }} <span class="small">{{ basis(t) }}</span>
            </td>
            <td class="n">{{ t.stock_g ? mass(t.stock_g, 2) : '–' }}</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="small">
      At least: the score that it beats 19 times in 20; what is offered has one as high. A plate is what one eater gets,
      {{ v ? mass(v.of.each_g) : '' }} without bone and waste.
      <RouterLink :to="{ name: 'same-meat' }">The same meat under other names</RouterLink>
    </p>
  </section>
</template>

<style scoped>
.row {
  flex-wrap: wrap;
  gap: 14px;
  margin: 10px 0;
}
.tick {
  display: inline-flex;
  gap: 8px;
  align-items: center;
  min-height: 44px;
  align-self: end;
}
.asked td {
  border-bottom: 2px solid var(--ink);
}
</style>
