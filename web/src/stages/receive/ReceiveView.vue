<script setup lang="ts">
// A lot as it comes in: typed in half a minute, answered while it is typed.
import { computed, nextTick, onMounted, reactive, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useRoute, useRouter } from 'vue-router'
import PvButton from 'primevue/button'
import { data, GET, POST, type S } from '../../api/client'
import { asProblem, Problem } from '../../api/problem'
import { useMe } from '../../shell/me'
import { useFeedback } from '../../feedback/useFeedback'
import { useShop } from '../../shell/shop'
import { anotherOf, bodyOf, emptyArrival, forecastOf, hitOf, shownFields } from './arrival'
import ArrivalFields from './ArrivalFields.vue'
import ForecastPane from './ForecastPane.vue'
import { useForecast } from './useForecast'
import { say } from '../../words/say'

const router = useRouter()
const queries = useQueryClient()
const { may } = useMe()
const { shop, unit } = useShop()
const { done } = useFeedback()

const piece = shallowRef<S['PieceHit']>()
const form = reactive(emptyArrival())
const refused = shallowRef<Problem>()
const saving = ref(false)
const first = useTemplateRef<HTMLElement>('first')
const lotTouched = ref(false)

watch(
  unit,
  (u) => {
    if (!form.weight) form.weightUnit = u
    if (!form.price) form.pricePer = u
  },
  { immediate: true },
)
watch(
  () => shop.value?.next_lot_number,
  (n) => {
    if (n && !lotTouched.value) form.lot = n
  },
  { immediate: true },
)
/** Another box of a delivery that stands in the address begins with what is the same. */
const like = String(useRoute().query.like ?? '')
const ready = ref(!like)
onMounted(async () => {
  if (like) {
    try {
      const d = await data(GET('/lots/{lot_id}', { params: { path: { lot_id: like } } }))
      Object.assign(form, anotherOf(d), { lot: shop.value?.next_lot_number ?? '' })
      piece.value = hitOf(d.lot)
    } catch (e) {
      refused.value = asProblem(e)
    }
    ready.value = true
  }
  await nextTick()
  const at = piece.value ? document.getElementById('weight') : first.value?.querySelector('input')
  at?.focus()
})

const request = computed(() => forecastOf(form, piece.value?.id))
const { forecast, problem, asking } = useForecast(request)
watch(piece, () => {
  form.findings = []
  form.decided = {}
})

const fault = (field: string) => refused.value?.at(field) || problem.value?.at(field) || ''
const otherFault = computed(
  () =>
    refused.value?.rest(shownFields) ||
    (problem.value && problem.value.errors.length === 0 ? problem.value.message : ''),
)
watch(form, () => (refused.value = undefined))

/** The next box of the same delivery: what is the same stays, its weight and number are asked anew. */
const another = ref(false)
function again(lot: S['Lot']) {
  done(say`${lot.lot_number} received.`)
  form.weight = ''
  form.each = ''
  form.invoiced = ''
  form.findings = []
  form.decided = {}
  lotTouched.value = false
  void nextTick(() => document.getElementById('weight')?.focus())
}
async function receive() {
  if (saving.value) return
  saving.value = true
  try {
    const lot = await data(POST('/lots', { body: bodyOf(form, piece.value?.id ?? '') }))
    await queries.invalidateQueries()
    if (another.value) {
      again(lot)
      return
    }
    const only = lot.piece_ids.length === 1 ? lot.piece_ids[0] : undefined
    const query = { received: lot.id }
    await router.push(only ? { name: 'plan', params: { piece: only }, query } : { name: 'rail', query })
  } catch (e) {
    refused.value = asProblem(e)
    await nextTick(() => document.querySelector<HTMLElement>('[aria-invalid="true"], .p-invalid input')?.focus())
  } finally {
    saving.value = false
  }
}
</script>

<template>
  <section class="page receive">
    <form
      ref="first"
      class="form"
      novalidate
      aria-label="Receive a lot"
      @submit.prevent="receive"
      @keydown.ctrl.enter="receive"
    >
      <div class="spread">
        <h1>What came in?</h1>
        <span class="row small"
          ><RouterLink v-if="may('POST /lots/import')" :to="{ name: 'note' }">A delivery note as a file</RouterLink
          ><RouterLink :to="{ name: 'lots' }">Lots received</RouterLink></span
        >
      </div>
      <ArrivalFields
        v-if="ready"
        v-model:form="form"
        v-model:piece="piece"
        :fault="fault"
        @failed="(e) => (refused = asProblem(e))"
        @numbered="lotTouched = true"
      />
      <p v-if="otherFault" class="fault" role="alert">{{ otherFault }}</p>
      <div class="row submit">
        <PvButton type="submit" label="Receive it" :loading="saving" /><label class="tick"
          ><input v-model="another" type="checkbox" data-test="another" /> and another of this delivery</label
        ><span class="small"><kbd>Enter</kbd> in any field does the same</span>
      </div>
    </form>
    <ForecastPane :forecast="forecast" :asking="asking" :piece="piece" />
  </section>
</template>

<style scoped>
.receive {
  display: grid;
  grid-template-columns: minmax(0, 620px) minmax(0, 1fr);
  gap: 36px;
}
.form {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.submit {
  position: sticky;
  bottom: 0;
  background: var(--ground);
  padding: 8px 0;
}
@media (max-width: 1000px) {
  .receive {
    grid-template-columns: 1fr;
  }
}
</style>
