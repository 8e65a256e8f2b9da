<script setup lang="ts">
// One order: what is wanted, what of it is packed, from which pieces it is cut, and its papers.
import { computed, ref } from 'vue'
import PvButton from 'primevue/button'
import FileLinks from '../components/FileLinks.vue'
import StateNote from '../components/StateNote.vue'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import { useStock } from '../goods/useStock'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { counted, say } from '../words/say'
import { clockOf, dayOf } from '../words/shown'
import OrderPieces from './OrderPieces.vue'
import PackLine from './PackLine.vue'
import WholeTable from './WholeTable.vue'
import { stateNames } from './orderWords'
import { useOrder, type Order } from './useOrders'

const props = defineProps<{ order: string }>()
const { mass, money, pricePer } = useShop()
const { may } = useMe()
const { done } = useFeedback()
const { busy, problem, attempt } = useAttempt()
const work = useOrder(() => props.order)
const { data: held, error, isLoading, refetch, waiting, refused } = work
const { data: stock } = useStock()
const opened = ref(-1)
const sentence = computed(() => {
  const o = held.value
  if (!o) return say('Order')
  const due = `${dayOf(o.due_at).replace(/ \d{4}$/, '')}, ${clockOf(o.due_at)}`
  if (o.state !== 'open') return `${o.customer}: ${stateNames[o.state]}.`
  return say`${o.customer}, due ${due}${o.late ? say(': late') : ''}.`
})
const path = computed(() => `/api/v1/orders/${props.order}`)
const files = computed(() => [
  { label: say('Cutting sheet'), href: `${path.value}/sheet.pdf` },
  ...(may('GET /orders/{order_id}/slip')
    ? [
        { label: say('Delivery slip'), href: `${path.value}/slip?format=pdf` },
        { label: 'CSV', href: `${path.value}/slip?format=csv` },
        { label: 'XLSX', href: `${path.value}/slip?format=xlsx` },
        { label: 'JSON', href: `${path.value}/slip?format=json` },
      ]
    : []),
])
const packsOf = (line: number) => held.value?.packed.filter((p) => p.line === line) ?? []
const wish = (l: Order['lines'][number]) =>
  [l.packs ? counted(l.packs, 'pack') : '', l.pieces ? say`${l.pieces} in each` : '', l.note].filter(Boolean).join(', ')
const said: Record<Order['state'], string> = {
  gone: say('Handed over.'),
  cancelled: say('Cancelled.'),
  open: say('Open again.'),
}
const turn = (state: Order['state']) =>
  attempt(async () => {
    const was = held.value!.state
    await work.turn(state, held.value!.version)
    done(said[state], () => work.turn(was, held.value!.version))
  })
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the order" @retry="refetch()" />
    <template v-if="held">
      <div class="spread">
        <h1 class="sentence" data-test="order-sentence">{{ sentence }}</h1>
        <FileLinks :files="files" />
      </div>
      <p class="small">
        {{ held.number }}<template v-if="held.note"> · {{ held.note }}</template>
      </p>
      <p v-if="waiting" class="small" role="status">{{ counted(waiting, 'packing') }} on the way; nothing is lost.</p>
      <p v-if="refused" class="fault" role="alert">{{ refused }}</p>
      <WholeTable v-if="held.whole" :whole="held.whole" />
      <table v-wide data-test="order-lines">
        <thead>
          <tr>
            <th>What</th>
            <th class="n">Wanted</th>
            <th>Wish</th>
            <th class="n">Packed</th>
            <th v-if="!held.whole" class="n">A kilogram</th>
            <th v-if="!held.whole" class="n">Comes to</th>
            <th><span class="vh">Pack</span></th>
          </tr>
        </thead>
        <tbody>
          <template v-for="(l, i) in held.lines" :key="i">
            <tr>
              <td>{{ l.name }}</td>
              <td class="n">{{ mass(l.weight_g, 2) }}</td>
              <td>{{ wish(l) }}</td>
              <td class="n">
                <strong v-if="l.packed_g">{{ mass(l.packed_g) }}</strong><template v-else>–</template>
              </td>
              <td v-if="!held.whole" class="n">
                {{ l.price_per_kg ? pricePer(l.price_per_kg) : say('no price')
                }}<span v-if="l.agreed" class="small"> agreed</span>
              </td>
              <td v-if="!held.whole" class="n">{{ l.amount ? money(l.amount) : '–' }}</td>
              <td>
                <PvButton
                  v-if="held.state === 'open' && may('POST /orders/{order_id}/packs')"
                  text
                  :label="opened === i ? say('Close') : l.complete ? say('Packed') : say('Pack')"
                  :aria-label="say`Pack ${l.name}`"
                  :aria-expanded="opened === i"
                  :data-test="`pack-${i}`"
                  @click="opened = opened === i ? -1 : i"
                />
              </td>
            </tr>
            <tr v-if="opened === i && held.state === 'open'">
              <td :colspan="held.whole ? 5 : 7">
                <PackLine
                  :line="l"
                  :place="i"
                  :packs="packsOf(i)"
                  :tubs="stock?.tubs.filter((t) => t.key === l.product_key && t.left_g > 0) ?? []"
                  :pack="work.pack"
                  :unpack="work.unpack"
                />
              </td>
            </tr>
          </template>
          <tr class="total">
            <td>{{ held.whole ? say('The whole') : say('Together') }}</td>
            <td class="n">{{ mass(held.ordered_g, 2) }}</td>
            <td />
            <td class="n">{{ mass(held.packed_g) }}</td>
            <td v-if="!held.whole" />
            <td v-if="!held.whole" class="n">{{ money(held.total) }}</td>
            <td />
          </tr>
        </tbody>
      </table>
      <p v-if="problem" class="fault" role="alert">
        {{ problem.errors.map((e) => `${e.message} ${e.hint ?? ''}`).join(' ') || problem.message }}
      </p>
      <div v-if="may('PUT /orders/{order_id}/state')" class="row no-print">
        <template v-if="held.state === 'open'">
          <PvButton
            label="Hand it over"
            :severity="held.ready ? undefined : 'secondary'"
            :disabled="busy || !held.packed_g"
            data-test="hand-over"
            @click="turn('gone')"
          />
          <RouterLink :to="{ name: 'order-edit', params: { order: held.id } }">Change it</RouterLink>
          <PvButton text label="Cancel the order" :disabled="busy" @click="turn('cancelled')" />
        </template>
        <PvButton v-else severity="secondary" label="Open it again" :disabled="busy" @click="turn('open')" />
      </div>
      <OrderPieces :order="held" :set="work.setPieces" />
    </template>
  </section>
</template>

<style scoped>
.page > * + * {
  margin-top: 12px;
}
.row a {
  min-height: 44px;
  display: inline-flex;
  align-items: center;
}
</style>
