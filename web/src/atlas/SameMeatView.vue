<script setup lang="ts">
// One muscle under the names that it is sold by, and what a kilogram of each costs to eat.
import { computed } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import { keyOf } from '../api/keys'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { useAddressForm } from '../components/useAddressForm'
import { data, GET, type S } from '../api/client'
import { useCardPath } from '../cooking/useCardPath'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { percent } from '../words/shown'

const { money, perUnit, unit } = useShop()
const { cardPath } = useCardPath()
const {
  data: list,
  error,
  isLoading,
  refetch,
} = useQuery({ queryKey: keyOf('prices', 'same-meat'), queryFn: () => data(GET('/same-meat')) })
const form = useAddressForm({ find: '' })
const plain = (s: string) => s.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase()
const says = (m: S['SameMeat']) =>
  plain(
    [
      m.muscle,
      m.anatomical,
      m.species,
      ...m.products.flatMap((p) => [p.name, p.menu_name ?? '', p.piece, ...p.others]),
    ].join(' '),
  )
const found = computed(() => {
  const words = plain(form.find).split(/\s+/).filter(Boolean)
  return (list.value ?? [])
    .filter((m) => words.every((w) => says(m).includes(w)))
    .map((m) => ({ ...m, spread: spread(m) }))
    .sort((a, b) => b.spread - a.spread)
})
/** How much more the dearest of it costs to eat than the cheapest; 0 where fewer than two have a price. */
function spread(m: S['SameMeat']) {
  const all = m.products.filter((p) => p.edible_per_kg).map((p) => Number(p.edible_per_kg))
  return all.length > 1 ? Math.max(...all) / Math.min(...all) - 1 : 0
}
const most = computed(() => found.value[0])
const dearest = computed(() => percent((most.value?.spread ?? 0) * 100, 0))
</script>

<template>
  <section class="page">
    <h1 class="sentence">
      {{
        most && most.spread > 0
          ? say`The same ${most.muscle.toLowerCase()} costs up to ${dearest} more by another name.`
          : say('The same meat under other names')
      }}
    </h1>
    <FormField id="find" label="A name, in any market"
      ><InputText id="find" v-model="form.find" type="search" autocomplete="off"
    /></FormField>
    <StateNote :error="error" :loading="isLoading" what="the names" @retry="refetch()" />
    <p v-if="list && !found.length" class="small">Nothing is called so. Try another word of it.</p>
    <section v-for="m in found" :key="m.species + m.anatomical" class="meat">
      <h2>
        {{ m.muscle }}
        <span class="small">{{ m.species }}, {{ m.anatomical }}; {{ counted(m.products.length, 'name') }}</span>
      </h2>
      <table v-wide>
        <thead>
          <tr>
            <th>Sold as</th>
            <th>Elsewhere</th>
            <th>Cut from</th>
            <th class="n">Price</th>
            <th class="n">Eaten</th>
            <th class="n">A {{ unit }} to eat</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="p in m.products" :key="p.key">
            <td>
              <a :href="cardPath(p.atlas_id, p.product_id)" target="_blank">{{ p.name }}</a><span
                v-if="p.menu_name"
                class="small"
              >
                sold as {{ p.menu_name }}</span
              >
            </td>
            <td class="small">{{ p.others.join(' · ') || '–' }}</td>
            <td>
              <RouterLink :to="{ name: 'atlas-piece', params: { piece: p.atlas_id } }">{{ p.piece }}</RouterLink>
            </td>
            <td class="n">{{ p.price ? `${money(p.price)}/${p.price_per}` : '–' }}</td>
            <td class="n">{{ percent(p.edible_pct, 0) }}</td>
            <td class="n">{{ p.edible_per_kg ? money(perUnit(p.edible_per_kg)) : '–' }}</td>
          </tr>
        </tbody>
      </table>
    </section>
    <p v-if="list" class="small">
      Names by market are common practice, from memory. Eaten is all but bone and waste, by the atlas’ shares. Prices
      are today’s.
    </p>
  </section>
</template>

<style scoped>
.meat {
  margin-top: 26px;
}
td:nth-child(2) {
  max-width: 46ch;
}
</style>
