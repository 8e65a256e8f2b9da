<script setup lang="ts">
// What lies in stock: tubs of trim, trays, made goods; first what must go first; what becomes of each.
import { computed, ref } from 'vue'
import PvButton from 'primevue/button'
import DayPick from '../components/DayPick.vue'
import FileLinks from '../components/FileLinks.vue'
import FormField from '../components/FormField.vue'
import ListTable, { type ListColumn } from '../components/ListTable.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import { useAddressForm } from '../components/useAddressForm'
import type { S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { percent, plainDay, today } from '../words/shown'
import { dayOr } from '../words/typed'
import TubActions from './TubActions.vue'
import { placeNames, tubName } from './tubWords'
import { useStock, useStockBooking } from './useStock'

const { mass, money } = useShop()
const { may } = useMe()
const { data: stock, error, isLoading, refetch } = useStock()
const booking = useStockBooking()
const { waiting, refused } = booking
const { busy, problem, attempt } = useAttempt()
const kinds = { stream: say('Trim, fat and bone'), product: say('Cut'), made: say('Made') }
const find = useAddressForm({ kind: 'stream', q: '', open: '' })
const day = ref(today())
const begin = () => attempt(() => booking.begin(dayOr(day.value)))
const tubs = computed(() => (stock.value?.tubs ?? []).filter((t) => t.kind === find.kind))
const over = computed(() => (stock.value?.tubs ?? []).filter((t) => t.over && t.left_g > 0))
const below = computed(() => (stock.value?.tubs ?? []).filter((t) => t.left_g < 0))
const worth = computed(() => tubs.value.reduce((sum, t) => sum + Number(t.value ?? 0), 0))
const sentence = computed(() => {
  if (!stock.value?.from) return say('Nothing is kept in stock yet.')
  const g = tubs.value.reduce((sum, t) => sum + t.left_g, 0)
  const kind = kinds[find.kind as keyof typeof kinds]
  return say`${kind}: ${mass(g, 2)} in ${counted(tubs.value.length, 'tub')}, ${money(worth.value)}.`
})
const columns = computed<ListColumn<S['Tub']>[]>(() => [
  { id: 'name', head: say('What'), by: (t) => t.name },
  { id: 'made', head: find.kind === 'made' ? say('Made') : say('Cut'), by: (t) => t.made_on, whole: true },
  { id: 'place', head: say('Where'), by: (t) => t.place },
  { id: 'left', head: say('There is'), by: (t) => t.left_g, number: true },
  ...(find.kind === 'product'
    ? []
    : [{ id: 'lean', head: say('Lean'), by: (t: S['Tub']) => t.lean_pct ?? 0, number: true }]),
  { id: 'use', head: say('Use by'), by: (t) => t.use_by, whole: true },
  ...(find.kind === 'stream'
    ? [{ id: 'mince', head: say('Mince until'), by: (t: S['Tub']) => t.mince_until ?? '', whole: true }]
    : []),
  { id: 'value', head: say('Worth'), by: (t) => Number(t.value ?? 0), number: true },
])
const keyOf = (t: S['Tub']) => t.id
const turn = (t: S['Tub']) => (find.open = find.open === t.id ? '' : t.id)
</script>

<template>
  <section class="page">
    <div class="spread">
      <h1 class="sentence" data-test="stock-sentence">{{ sentence }}</h1>
      <span v-if="stock?.from" class="row"
        ><FileLinks
          v-if="may('GET /goods/export')"
          lead="The list as"
          :files="[
            { label: 'CSV', href: '/api/v1/goods/export?format=csv' },
            { label: 'XLSX', href: '/api/v1/goods/export?format=xlsx' },
          ]"
        /><RouterLink v-if="may('POST /goods/events')" :to="{ name: 'stock-count' }">Count a room</RouterLink
        ><RouterLink :to="{ name: 'stock-reduce' }">Sell for less</RouterLink
        ><RouterLink :to="{ name: 'stock-log' }">What became of it</RouterLink></span
      >
    </div>
    <StateNote :error="error" :loading="isLoading" what="the stock" @retry="refetch()" />
    <form v-if="stock && !stock.from" class="begin" novalidate aria-label="Begin the stock" @submit.prevent="begin">
      <p>
        From a day on, everything that is cut lies here until it is sold, used or thrown away. What was cut before that
        day counts as gone.
      </p>
      <div class="row">
        <FormField id="begin-day" label="From" :fault="problem?.at('day')"
          ><DayPick id="begin-day" v-model="day"
        /></FormField>
        <PvButton
          type="submit"
          label="Keep the stock"
          :loading="busy"
          :disabled="!may('PUT /goods/begin')"
          data-test="begin-stock"
        />
      </div>
      <p v-if="problem?.rest(['day'])" class="fault" role="alert">{{ problem.rest(['day']) }}</p>
    </form>
    <template v-if="stock?.from">
      <UnitToggle v-model="find.kind" :options="Object.keys(kinds)" :names="kinds" label="Which goods" />
      <p v-if="waiting" class="small" role="status">
        {{ counted(waiting, 'booking') }} {{ waiting === 1 ? say('waits') : say('wait') }} for the network; nothing is
        lost.
      </p>
      <p v-if="refused" class="fault" role="alert">{{ refused }}</p>
      <p v-if="over.length" class="fault">
        Past their use-by: {{ over.slice(0, 6).map(tubName).join('; ') }}{{ over.length > 6 ? say(' and more') : '' }}.
      </p>
      <p v-if="below.length" class="fault">
        More went than was cut: {{ below.slice(0, 6).map(tubName).join('; ') }}. Count them.
      </p>
      <ListTable
        :rows="tubs"
        :columns="columns"
        :row-key="keyOf"
        :opened="find.open"
        label="What lies in stock"
        empty="Nothing of that lies here."
      >
        <template #name="{ row: t }"
          ><button
            v-if="may('POST /goods/events')"
            type="button"
            class="row-opens"
            :aria-expanded="find.open === t.id"
            :data-tub="t.id"
            @click="turn(t)"
          >
            {{ t.name }}</button
          ><template v-else>{{ t.name }}</template
          ><span class="small row-beside">{{ t.lot_number ?? t.species }}</span></template
        >
        <template #made="{ row: t }">{{ plainDay(t.made_on) }}</template>
        <template #place="{ row: t }">{{ placeNames[t.place] ?? t.place }}</template>
        <template #left="{ row: t }"
          ><strong :class="{ fault: t.left_g < 0 }">{{ mass(t.left_g) }}</strong></template
        >
        <template #lean="{ row: t }"
          ><template v-if="t.lean_pct !== undefined"
            >{{ percent(t.lean_pct)
            }}<span class="small row-beside">{{
              t.tests ? counted(t.tests, 'test') : say('estimated')
            }}</span></template
          ><template v-else>–</template></template
        >
        <template #use="{ row: t }"
          ><span :class="{ fault: t.over }">{{ plainDay(t.use_by) }}</span></template
        >
        <template #mince="{ row: t }"
          ><span v-if="t.mince_until && t.form !== 'bone'" :class="{ fault: t.late }"
            >{{ plainDay(t.mince_until) }}{{ t.late ? say(', past') : '' }}</span
          ><template v-else>–</template></template
        >
        <template #value="{ row: t }"
          >{{ t.value ? money(t.value) : '–'
          }}<span v-if="t.off_pct" class="small row-beside">{{ percent(t.off_pct, 0) }} off</span></template
        >
        <template #opened="{ row: t }"><TubActions :tub="t" :places="stock.places" :booking="booking" /></template>
      </ListTable>
      <p class="small">
        A tub is what was cut of one product on one day and lies in one place; what lies together counts as mixed. Lean
        is chemical: 100 less fat. Mince until: 6 days after slaughter, 15 for boned, vacuum-packed beef; local rules
        come first.
      </p>
    </template>
  </section>
</template>

<style scoped>
.begin {
  display: flex;
  flex-direction: column;
  gap: 12px;
  margin-top: 14px;
}
.begin .row {
  align-items: end;
}
.page > .p-datatable,
.page > p {
  margin-top: 10px;
}
</style>
