<script setup lang="ts">
// Another shop in the same installation; who adds it owns it.
import { ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import PvButton from 'primevue/button'
import { data, POST, PUT } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import NewShopFields from '../entry/NewShopFields.vue'
import { newShopFields, useNewShop } from '../entry/useNewShop'
import { say } from '../words/say'

const router = useRouter()
const { changed } = useMe()
const { busy, problem, attempt } = useAttempt()
const open = ref(false)
const { form, markets, body } = useNewShop(say('Bench 1'))
watch(form, () => (problem.value = undefined))
const fault = (f: string) => problem.value?.at(f) ?? ''

const add = () =>
  attempt(async () => {
    const made = await data(POST('/shops', { body: body() }))
    await data(PUT('/session/shop', { body: { shop_id: made.shop_id } }))
    await changed()
    await router.push({ name: 'rail' })
  })
</script>

<template>
  <section class="another">
    <PvButton v-if="!open" text label="Add another shop" @click="open = true" />
    <form v-else class="stack" novalidate aria-label="Another shop" @submit.prevent="add">
      <h2>Another shop</h2>
      <p class="small">
        It has its own people, benches, prices and lots; nothing of this shop is seen there. You are its owner.
      </p>
      <NewShopFields v-model="form" :markets="markets" :fault="fault" />
      <p class="small">Its prices can be copied from this shop on its price page.</p>
      <p v-if="problem?.rest(newShopFields)" class="fault" role="alert">{{ problem.rest(newShopFields) }}</p>
      <div class="row">
        <PvButton type="submit" label="Add it and go there" :loading="busy" /><PvButton
          text
          label="Cancel"
          @click="open = false"
        />
      </div>
    </form>
  </section>
</template>

<style scoped>
.another {
  margin-top: 28px;
  padding-top: 16px;
  border-top: 1px solid var(--hairline);
  max-width: 640px;
}
</style>
