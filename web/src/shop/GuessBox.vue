<script setup lang="ts">
// The price ladder: from a few prices that are known by heart the others are guessed, each with its range, until
// somebody says what they are.
import { computed, reactive, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { pricedBy, refresh } from '../api/keys'
import FormField from '../components/FormField.vue'
import { data, DELETE, POST, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { shortName } from '../words/shown'
import { speciesName } from '../words/species'

const props = defineProps<{ rows: S['BookRow'][] }>()
const queries = useQueryClient()
const { unit } = useShop()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()

/** What an owner knows by heart: the bottom, the middle and the top of the counter. */
const byHeart = [
  'beef.mince_trim',
  'beef.stew',
  'beef.topside_joint',
  'beef.rump_steak',
  'beef.striploin_steak',
  'beef.fillet_steak',
  'beef.fat',
  'beef.stock_bone',
  'lamb.leg_roast',
  'lamb.loin_chop',
  'lamb.shoulder_roast',
]
const known = computed(() => props.rows.filter((r) => r.product.price && !r.product.guess))
const missing = computed(() => props.rows.filter((r) => !r.product.price))
const guesses = computed(() => props.rows.filter((r) => r.product.guess))
const asked = computed(() =>
  byHeart
    .map((key) => props.rows.find((r) => r.product.key === key)?.product)
    .filter((p): p is S['Price'] => !!p && (!p.price || !!p.guess)),
)
const form = reactive<Record<string, string>>({})
watch(
  asked,
  (list) => {
    for (const p of list) form[p.key] ??= ''
  },
  { immediate: true },
)
const labelOf = (p: S['Price']) =>
  say`${p.species === 'beef' ? '' : `${speciesName(p.species)}: `}${shortName(p.name)}, per ${unit.value}`
const typed = computed(() => asked.value.filter((p) => form[p.key]?.trim()))
const fault = (key: string) => {
  const i = typed.value.findIndex((p) => p.key === key)
  return i < 0 ? '' : (problem.value?.at(`prices[${i}].price`) ?? '')
}
const shown = computed(() => !!asked.value.length && (known.value.length < byHeart.length || !!guesses.value.length))
const renew = () => refresh(queries, ...pricedBy, 'plans')

const guess = () =>
  attempt(async () => {
    if (typed.value.length) {
      const prices = typed.value.map((p) => ({ key: p.key, price: form[p.key]!, per: unit.value, version: p.version }))
      await data(PUT('/prices', { body: { prices } }))
      for (const p of prices) form[p.key] = ''
    }
    const g = await data(POST('/prices/guesses'))
    await renew()
    done(say`${counted(g.guessed, 'price')} guessed from ${g.known}.`, takeBack)
  })
const takeBack = () =>
  attempt(async () => {
    await data(DELETE('/prices/guesses'))
    await renew()
  })
</script>

<template>
  <details v-if="missing.length || guesses.length" class="box no-print" :open="known.length < 3" data-test="guess-box">
    <summary>
      <strong>{{ guesses.length ? say('Guessed prices') : say('Guess the rest') }}</strong>
      <template v-if="guesses.length">
        {{ counted(guesses.length, 'price') }} marked ≈, from {{ known.length }} that are known</template
      ><template v-else-if="known.length"> of the prices from the {{ known.length }} that are known</template
      ><template v-else> of the prices from a few that you know by heart</template>
    </summary>
    <p class="small">
      Every product has its usual place on the counter beside mince. What you enter here says at which level you sell;
      the others follow, each with the range in which it lies four times in five. Answers say how many of their prices
      are guesses. Touch a guess below and press Enter to say that it is right: the others become surer.
    </p>
    <form novalidate aria-label="Prices known by heart" @submit.prevent="guess">
      <div v-if="shown" class="heart">
        <FormField v-for="p in asked" :id="`heart-${p.key}`" :key="p.key" :label="labelOf(p)" :fault="fault(p.key)"
          ><InputText
            :id="`heart-${p.key}`"
            v-model="form[p.key]"
            inputmode="decimal"
            :placeholder="p.guess ? `≈ ${p.price}` : ''"
            :invalid="!!fault(p.key)"
            autocomplete="off"
        /></FormField>
      </div>
      <p v-if="problem && !typed.some((p) => fault(p.key))" class="fault" role="alert">{{ problem.message }}</p>
      <p class="row">
        <PvButton
          type="submit"
          :label="
            typed.length
              ? say('Keep these and guess the rest')
              : guesses.length
                ? say('Guess anew')
                : say('Guess the rest')
          "
          :loading="busy"
          :disabled="!typed.length && !known.length"
          data-test="guess"
        />
        <PvButton v-if="guesses.length" text label="Take the guesses back" :disabled="busy" @click="takeBack" />
      </p>
    </form>
  </details>
</template>

<style scoped>
.box {
  margin: 14px 0;
}
summary {
  cursor: pointer;
  min-height: 44px;
  padding-top: 12px;
}
form {
  padding-bottom: 10px;
}
.heart {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 10px 18px;
  margin: 8px 0 14px;
}
</style>
