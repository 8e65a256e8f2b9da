<script setup lang="ts">
// Another shop in the same installation; who adds it owns it.
import { reactive, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import FormField from '../components/FormField.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { data, POST, PUT } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import PickOne from '../components/PickOne.vue'
import { timeZones, zoneHere } from '../shell/zones'

const router = useRouter()
const { changed } = useMe()
const { busy, problem, attempt } = useAttempt()
const open = ref(false)
const form = reactive({ name: '', currency: '', time_zone: zoneHere(), weight_unit: 'kg', benches: 'Bench 1' })
watch(form, () => (problem.value = undefined))
const zones = timeZones(zoneHere())
const fault = (f: string) => problem.value?.at(f) ?? ''

const shown = ['name', 'currency', 'time_zone', 'weight_unit', 'benches']
const add = () =>
  attempt(async () => {
    const made = await data(
      POST('/shops', {
        body: {
          ...form,
          currency: form.currency.trim().toUpperCase(),
          benches: form.benches
            .split(',')
            .map((b) => b.trim())
            .filter(Boolean),
        },
      }),
    )
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
      <div class="row four">
        <FormField id="shop-name" label="Name" :fault="fault('name')"
          ><InputText id="shop-name" v-model="form.name" :invalid="!!fault('name')" autocomplete="off"
        /></FormField>
        <FormField id="shop-currency" label="Currency" :fault="fault('currency')"
          ><InputText
            id="shop-currency"
            v-model="form.currency"
            maxlength="3"
            :invalid="!!fault('currency')"
            autocomplete="off"
            placeholder="EUR"
        /></FormField>
        <FormField id="shop-unit" label="Weighs in" :fault="fault('weight_unit')"
          ><UnitToggle v-model="form.weight_unit" :options="['kg', 'lb']" label="The new shop weighs in"
        /></FormField>
        <FormField id="shop-zone" label="Time zone" :fault="fault('time_zone')"
          ><PickOne id="shop-zone" v-model="form.time_zone" :options="zones"
        /></FormField>
        <FormField id="shop-benches" label="Benches, separated by commas" :fault="fault('benches')"
          ><InputText id="shop-benches" v-model="form.benches" :invalid="!!fault('benches')" autocomplete="off"
        /></FormField>
      </div>
      <p v-if="problem?.rest(shown)" class="fault" role="alert">{{ problem.rest(shown) }}</p>
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
  max-width: 980px;
}
.four {
  align-items: start;
}
</style>
