<script setup lang="ts">
// Counting a room: tub by tub what is there, then what is missing with what explains it, then all of it booked at once.
// What was typed stays in this browser until it is booked.
import { computed, ref, watch } from 'vue'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import PickOne from '../components/PickOne.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { useAddressForm } from '../components/useAddressForm'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { percent, plainDay } from '../words/shown'
import {
  bookingOf,
  compared,
  dropCount,
  keepCount,
  readCount,
  whyNames,
  type CountDraft,
  type Found,
  type Why,
} from './countDraft'
import { placeNames, tubName } from './tubWords'
import { useStock, useStockBooking } from './useStock'

const { shop, unit, mass, money, gramsOf } = useShop()
const { may } = useMe()
const { done, ask } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const { data: stock, error, isLoading, refetch } = useStock()
const booking = useStockBooking()
const { waiting, refused } = booking
const form = useAddressForm({ place: 'cold', step: 'count', open: false })
const draft = ref<CountDraft>({ found: {}, why: {} })
watch(
  () => [shop.value?.id, form.place],
  () => shop.value && (draft.value = readCount(shop.value.id, form.place)),
  { immediate: true },
)
watch(draft, (d) => shop.value && keepCount(shop.value.id, form.place, d), { deep: true })
const tubs = computed(() => (stock.value?.tubs ?? []).filter((t) => t.place === form.place))
const found = computed(() => compared(tubs.value, draft.value.found, gramsOf, shop.value?.division_g ?? 0))
const typed = computed(() => tubs.value.filter((t) => draft.value.found[t.id]?.trim()).length)
const wrong = computed(() => typed.value - found.value.length)
const off = computed(() => found.value.filter((f) => f.offG))
const total = computed(() => found.value.reduce((sum, f) => sum + f.offG, 0))
const worth = computed(() => found.value.reduce((sum, f) => sum + f.money, 0))
const should = computed(() => found.value.reduce((sum, f) => sum + Math.max(0, f.tub.left_g), 0))
const sentence = computed(() => {
  const room = placeNames[form.place] ?? form.place
  if (form.step !== 'compare') return say`${room}: ${typed.value} of ${counted(tubs.value.length, 'tub')} counted.`
  if (!off.value.length) return say`${room}: everything that was counted is there.`
  const part = should.value ? ` (${percent((100 * Math.abs(total.value)) / should.value, 2)})` : ''
  const what = total.value < 0 ? say('missing') : say('more than the log says')
  return `${room}: ${mass(Math.abs(total.value), 2)}${part} ${what}, ${money(worth.value, true)}.`
})
const whys = (f: Found) =>
  (Object.keys(whyNames) as Why[])
    .filter((w) => f.offG < 0 || w === 'wrong' || w === 'unknown')
    .map((id) => ({ id, name: whyNames[id] }))
const whyOf = (f: Found): Why => draft.value.why[f.tub.id] ?? 'unknown'
/** The next field, where Enter is pressed in one. */
function next(e: KeyboardEvent) {
  const all = [...document.querySelectorAll<HTMLInputElement>('[data-count]')]
  all[all.indexOf(e.target as HTMLInputElement) + 1]?.focus()
}
const book = () =>
  attempt(async () => {
    const undo: (() => Promise<void>)[] = []
    for (const f of [...found.value]) {
      undo.push(await booking.book(bookingOf(f, whyOf(f))))
      delete draft.value.found[f.tub.id]
      delete draft.value.why[f.tub.id]
    }
    form.step = 'count'
    done(say`${counted(undo.length, 'tub')} booked as counted.`, async () => {
      for (const u of undo.reverse()) await u()
    })
  })
async function leave() {
  const yes = await ask({
    title: say('Begin the count anew?'),
    text: say('What was typed in this room is forgotten; nothing of it was booked.'),
    yes: say('Begin anew'),
  })
  if (!yes || !shop.value) return
  draft.value = { found: {}, why: {} }
  dropCount(shop.value.id, form.place)
  form.step = 'count'
}
</script>

<template>
  <section class="page">
    <h1 class="sentence" data-test="count-sentence">{{ sentence }}</h1>
    <StateNote :error="error" :loading="isLoading" what="the stock" @retry="refetch()" />
    <template v-if="stock">
      <p v-if="waiting" class="small" role="status">{{ counted(waiting, 'booking') }} on the way; nothing is lost.</p>
      <p v-if="refused" class="fault" role="alert">{{ refused }}</p>
      <div class="spread no-print">
        <UnitToggle
          v-model="form.place"
          :options="stock.places.map((p) => p.id)"
          :names="placeNames"
          label="Which room"
        />
        <label v-if="form.step !== 'compare'" class="tick"
          ><input v-model="form.open" type="checkbox" /> show what the log says</label
        >
      </div>
      <p v-if="!tubs.length" class="small">By the log nothing lies there.</p>
      <table v-else-if="form.step !== 'compare'" v-wide>
        <thead>
          <tr>
            <th>Tub</th>
            <th>Use by</th>
            <th v-if="form.open" class="n">By the log</th>
            <th class="n">There is, {{ unit }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="t in tubs" :key="t.id">
            <td>{{ tubName(t) }}</td>
            <td>{{ plainDay(t.use_by) }}</td>
            <td v-if="form.open" class="n">{{ mass(t.left_g) }}</td>
            <td class="n">
              <InputText
                v-model="draft.found[t.id]"
                class="found"
                inputmode="decimal"
                autocomplete="off"
                :aria-label="say`There is of ${tubName(t)}, ${unit}`"
                :invalid="!!draft.found[t.id]?.trim() && !(gramsOf(draft.found[t.id]!) >= 0)"
                :data-count="t.id"
                @keydown.enter.prevent="next"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <table v-else v-wide data-test="differences">
        <thead>
          <tr>
            <th>Tub</th>
            <th class="n">By the log</th>
            <th class="n">Found</th>
            <th class="n">Difference</th>
            <th class="n">Worth</th>
            <th>Why</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="f in found" :key="f.tub.id">
            <td>{{ tubName(f.tub) }}</td>
            <td class="n">{{ mass(f.tub.left_g) }}</td>
            <td class="n">{{ mass(f.foundG) }}</td>
            <td class="n">
              <strong v-if="f.offG">{{ mass(f.offG) }}</strong><template v-else>agrees</template>
            </td>
            <td class="n">{{ f.offG ? money(f.money, true) : '' }}</td>
            <td>
              <PickOne
                v-if="f.offG"
                :model-value="whyOf(f)"
                :options="whys(f)"
                :label="say`Why ${tubName(f.tub)} differs`"
                @update:model-value="(w: Why) => (draft.why[f.tub.id] = w)"
              />
            </td>
          </tr>
          <tr class="total">
            <td>{{ counted(found.length, 'tub') }}</td>
            <td class="n">{{ mass(should) }}</td>
            <td class="n">{{ mass(should + total) }}</td>
            <td class="n">{{ mass(total) }}</td>
            <td class="n">{{ money(worth, true) }}</td>
            <td />
          </tr>
        </tbody>
      </table>
      <p v-if="wrong" class="fault" role="alert">
        {{ counted(wrong, 'weight') }} cannot be read; {{ wrong === 1 ? say('it is') : say('they are') }} left out.
      </p>
      <p v-if="problem" class="fault" role="alert">{{ problem.errors[0]?.message ?? problem.message }}</p>
      <div v-if="tubs.length" class="row no-print">
        <template v-if="form.step !== 'compare'">
          <PvButton
            label="Compare with the log"
            :disabled="!found.length"
            data-test="compare-count"
            @click="form.step = 'compare'"
          />
          <PvButton v-if="typed" text label="Begin anew" @click="leave" />
        </template>
        <template v-else>
          <PvButton
            v-if="may('POST /goods/events')"
            :label="say`Book ${counted(found.length, 'tub')}`"
            :loading="busy"
            :disabled="!found.length"
            data-test="book-count"
            @click="book"
          />
          <PvButton text label="Back to the count" @click="form.step = 'count'" />
        </template>
      </div>
      <p class="small">
        A tub that was not counted is left as it is. What is missing and was sold or thrown away is booked as that, the
        rest as counted. Differences below what the scale shows are none.
      </p>
    </template>
  </section>
</template>

<style scoped>
.page > * + * {
  margin-top: 12px;
}
.found {
  width: 120px;
  text-align: right;
}
</style>
