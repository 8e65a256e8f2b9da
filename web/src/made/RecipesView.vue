<script setup lang="ts">
// What the shop makes: each recipe scaled, costed and with its label; written and changed here.
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import PvButton from 'primevue/button'
import StateNote from '../components/StateNote.vue'
import { useAddressForm } from '../components/useAddressForm'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { percent } from '../words/shown'
import RecipeForm from './RecipeForm.vue'
import RecipeScale from './RecipeScale.vue'
import { beginMaking, useRecipes } from './useMakings'
import { say } from '../words/say'

const router = useRouter()
const { money, pricePer } = useShop()
const { may } = useMe()
const { data: list, error, isLoading, refetch } = useRecipes()
const { busy, problem, attempt } = useAttempt()
const find = useAddressForm({ open: '' })
const open = computed(() => list.value?.recipes.find((r) => r.id === find.open))
const kindName = (id: string) => list.value?.kinds.find((k) => k.id === id)?.name ?? id
const limits = (id: string) => {
  const b = list.value?.recipes.find((r) => r.id === id)?.body
  if (!b) return ''
  const category = list.value?.categories.find((c) => c.id === b.category)
  return [
    category && say`${category.name}, at most ${category.fat_max_pct} % fat`,
    b.lean_min_pct > 0 && say`at least ${percent(b.lean_min_pct, 0)} lean`,
    b.lean_max_pct > 0 && say`at most ${percent(b.lean_max_pct, 0)} lean`,
    b.piece_g > 0 && say`${b.piece_g} g each`,
  ]
    .filter(Boolean)
    .join('; ')
}
const begin = (id: string) =>
  attempt(async () => {
    await router.push({ name: 'making', params: { making: await beginMaking(id) } })
  })
</script>

<template>
  <section class="page">
    <div class="spread">
      <h1 class="sentence">What you make</h1>
      <RouterLink :to="{ name: 'ingredients' }">Ingredients</RouterLink>
    </div>
    <StateNote :error="error" :loading="isLoading" what="the recipes" @retry="refetch()" />
    <template v-if="list">
      <p v-if="!list.recipes.length" class="small">
        None yet. Plain mince needs no more than a name, a price and how long it keeps.
      </p>
      <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
      <table v-if="list.recipes.length" v-wide data-test="recipes">
        <thead>
          <tr>
            <th>Recipe</th>
            <th>Kind</th>
            <th class="n">Price</th>
            <th class="n">Goes in beside the meat</th>
            <th class="n">Brings the meat</th>
            <th>Contains</th>
            <th><span class="vh">To do</span></th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="r in list.recipes" :key="r.id" :class="{ void: r.retired }">
            <td>
              <button
                type="button"
                class="link"
                :aria-expanded="find.open === r.id"
                @click="find.open = find.open === r.id ? '' : r.id"
              >
                {{ r.name }}</button><span class="small many">{{ limits(r.id) }}</span>
            </td>
            <td>{{ kindName(r.body.kind) }}</td>
            <td class="n">{{ r.price ? pricePer(r.price) : '–' }}</td>
            <td class="n">
              {{ money(r.cost)
              }}<span v-if="r.without.length" class="small many">without {{ r.without.join(', ') }}</span>
            </td>
            <td class="n">{{ r.net_per_kg && r.meat_g ? pricePer(r.net_per_kg) : '–' }}</td>
            <td>{{ r.allergens.join(', ') || '–' }}</td>
            <td class="n">
              <PvButton
                v-if="!r.retired && may('POST /makings')"
                severity="secondary"
                label="Make it"
                :disabled="busy"
                @click="begin(r.id)"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <section v-if="open" :key="open.id" class="open">
        <h2>{{ open.name }}</h2>
        <RecipeScale :recipe="open" />
        <RecipeForm v-if="may('PUT /recipes/{recipe_id}')" :list="list" :recipe="open" />
      </section>
      <details v-if="may('POST /recipes')" class="new">
        <summary>A new recipe</summary>
        <RecipeForm :list="list" @saved="(id) => (find.open = id)" />
      </details>
    </template>
  </section>
</template>

<style scoped>
.open {
  border-top: 1px solid var(--line);
  margin-top: 20px;
  padding-top: 14px;
  display: flex;
  flex-direction: column;
  gap: 18px;
}
.new {
  margin-top: 24px;
  border-top: 1px solid var(--hairline);
}
summary {
  min-height: 44px;
  padding-top: 10px;
  font-weight: 650;
  cursor: pointer;
}
.many {
  display: block;
}
.link {
  border: 0;
  background: none;
  padding: 0;
  min-height: 44px;
  font-weight: 600;
  color: var(--ink);
  text-decoration: underline dotted var(--line);
  cursor: pointer;
  text-align: left;
}
</style>
