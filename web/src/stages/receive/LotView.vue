<script setup lang="ts">
// One lot: what it is, its pieces, who changed what of it; corrected or voided with a reason.
import { computed, nextTick, reactive, ref, shallowRef, watch } from 'vue'
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../../api/keys'
import FormField from '../../components/FormField.vue'
import StateNote from '../../components/StateNote.vue'
import { data, GET, PUT, type S } from '../../api/client'
import { useAttempt } from '../../api/useAttempt'
import { useMe } from '../../shell/me'
import { moment, plainDay } from '../../words/shown'
import { useShop } from '../../shell/shop'
import LotHistory from './LotHistory.vue'
import LotPieces from './LotPieces.vue'
import { aboutFields, arrivalOf, hitOf, bodyOf, emptyArrival, shownFields } from './arrival'
import LotOnCarcass from './LotOnCarcass.vue'
import ArrivalFields from './ArrivalFields.vue'
import { useTitle } from '../../shell/title'
import { say } from '../../words/say'

const props = defineProps<{ lot: string }>()
const queries = useQueryClient()
const { shop, mass, money } = useShop()
const { may } = useMe()
const {
  data: d,
  error,
  isLoading,
  refetch,
} = useQuery({
  queryKey: computed(() => keyOf('lot', props.lot)),
  queryFn: () => data(GET('/lots/{lot_id}', { params: { path: { lot_id: props.lot } } })),
})
const { busy, problem, attempt } = useAttempt()

const mode = ref<'' | 'change' | 'void'>('')
const reason = ref('')
/** The piece that is to be voided, or nothing for the whole lot. */
const target = shallowRef<S['PieceCard']>()
const piece = shallowRef<S['PieceHit']>()
const form = reactive(emptyArrival())
watch([form, reason], () => (problem.value = undefined))
const fault = (f: string) => problem.value?.at(f) ?? ''
const isVoid = computed(() => !!(target.value ? target.value.voided_at : d.value?.lot.voided_at))

function begin(m: 'change' | 'void', card?: S['PieceCard']) {
  mode.value = m
  reason.value = ''
  target.value = card
  problem.value = undefined
  if (m === 'change' && d.value) {
    Object.assign(form, arrivalOf(d.value))
    piece.value = hitOf(d.value.lot)
  }
  void nextTick(() => document.getElementById(m === 'void' ? 'reason' : 'weight')?.focus())
}
async function done() {
  mode.value = ''
  await queries.invalidateQueries()
}
const change = () =>
  attempt(async () => {
    await data(
      PUT('/lots/{lot_id}', {
        params: { path: { lot_id: props.lot } },
        body: { lot: bodyOf(form, piece.value?.id ?? ''), version: d.value!.lot.version, reason: reason.value },
      }),
    )
    await done()
  })
const setVoid = () =>
  attempt(async () => {
    const body = { voided: !isVoid.value, reason: reason.value }
    if (target.value)
      await data(
        PUT('/pieces/{piece_id}/void', {
          params: { path: { piece_id: target.value.id } },
          body: { ...body, version: target.value.version },
        }),
      )
    else
      await data(
        PUT('/lots/{lot_id}/void', {
          params: { path: { lot_id: props.lot } },
          body: { ...body, version: d.value!.lot.version },
        }),
      )
    await done()
  })
const names: Record<string, string> = {
  bone: '',
  breed: '',
  feed: say('fed on'),
  sex: '',
  age_class: '',
  hang: say('hung'),
  fat_class: say('fat and shape'),
  marbling: say('marbling'),
  supplier_grade: say("supplier's grade"),
  ph: 'pH',
  born_in: say('born in'),
  reared_in: say('reared in'),
  slaughtered_in: say('slaughtered in'),
  plant: say('slaughterhouse'),
}
const percents: Record<string, string> = { fat_pct: say('fat within the muscle'), lean_yield_pct: say('lean') }
const known = computed(() =>
  aboutFields.flatMap((f) => {
    const v = d.value?.lot[f]
    if (f === 'temperature_c') return v === undefined ? [] : [say`${v} °C at arrival`]
    if (percents[f]) return v === undefined ? [] : [`${v} % ${percents[f]}`]
    return v === undefined ? [] : [`${names[f]} ${shop.value?.words[f]?.find((w) => w.id === v)?.name ?? v}`.trim()]
  }),
)
useTitle(() => d.value?.lot.lot_number)
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the lot" @retry="refetch()" />
    <template v-if="d">
      <p v-if="d.from_lot" class="label">
        Broken from
        <RouterLink :to="{ name: 'lot', params: { lot: d.from_lot.id } }">{{ d.from_lot.name }}</RouterLink>
      </p>
      <h1 class="sentence big">
        {{ d.lot.lot_number }}: {{ d.lot.pieces }} × {{ d.lot.name }}, {{ mass(d.lot.total_g, 2) }}
      </h1>
      <p class="no-print">
        <RouterLink :to="{ name: 'recall', params: { lot: d.lot.id } }">What it may be in (recall)</RouterLink>
      </p>
      <p v-if="d.lot.voided_at" class="fault">Voided {{ moment(d.lot.voided_at) }}: {{ d.lot.void_reason }}</p>
      <p>
        {{ d.lot.supplier }}. Slaughtered {{ plainDay(d.lot.slaughtered_on) }},
        {{ d.lot.packed_on ? say`packed ${plainDay(d.lot.packed_on)}` : say('hangs unpacked') }}.
        {{ money(d.lot.price) }} a {{ d.lot.price_per }}, {{ money(d.lot.cost) }} together. Received
        {{ moment(d.lot.received_at) }}.
      </p>
      <p v-if="d.lot.invoiced_g !== undefined" data-test="invoiced">
        The invoice says {{ mass(d.lot.invoiced_g, 2)
        }}<template v-if="d.lot.claim"
          >: {{ mass(d.lot.short_g!, 2) }} is missing, {{ money(d.lot.claim) }}.
          <a class="no-print" :href="`/api/v1/lots/${d.lot.id}/claim.pdf`" target="_blank"
            >A letter that claims it</a
          ></template
        ><template v-else-if="(d.lot.short_g ?? 0) < 0">: {{ mass(-d.lot.short_g!, 2) }} more came.</template
        ><template v-else>, as it came.</template>
      </p>
      <p v-if="known.length" class="known">{{ known.join(' · ') }}</p>
      <p v-if="d.lot.note">{{ d.lot.note }}</p>
      <p v-for="f in d.lot.findings" :key="f.id" class="fault">{{ f.look }}. {{ f.do }}</p>
      <p v-for="c in d.cautions" :key="c" class="fault">{{ c }}</p>
      <div v-if="!mode" class="row acts no-print">
        <a v-if="!d.lot.voided_at" :href="`/api/v1/lots/${d.lot.id}/tags.pdf`" target="_blank">Print its tags</a>
        <RouterLink v-if="may('POST /lots')" :to="{ name: 'receive', query: { like: d.lot.id } }"
          >Another of this delivery</RouterLink
        >
        <PvButton
          v-if="may('PUT /lots/{lot_id}') && !d.lot.voided_at"
          severity="secondary"
          label="Correct it"
          @click="begin('change')"
        />
        <PvButton
          v-if="may('PUT /lots/{lot_id}/void') && !d.fixed"
          text
          :label="d.lot.voided_at ? say('Take back the voiding') : say('Void lot')"
          @click="begin('void')"
        />
      </div>
      <form v-if="mode === 'void'" class="box stack" novalidate aria-label="Void" @submit.prevent="setVoid">
        <h2>
          {{ isVoid ? say('Take back') : say('Void') }}
          {{ target ? say`piece ${target.number} of ${d.lot.lot_number}` : say`the whole lot ${d.lot.lot_number}` }}
        </h2>
        <p class="small">
          {{
            isVoid
              ? say('It hangs on the rail again.')
              : say('It leaves the rail, the boards and the calendar. Nothing is deleted; it can be taken back.')
          }}
        </p>
        <FormField id="reason" label="Why" :fault="fault('reason')"
          ><InputText id="reason" v-model="reason" :invalid="!!fault('reason')" autocomplete="off"
        /></FormField>
        <p v-if="problem?.rest(['reason'])" class="fault" role="alert">{{ problem.rest(['reason']) }}</p>
        <div class="row">
          <PvButton type="submit" :label="isVoid ? say('Take it back') : say('Void it')" :disabled="busy" /><PvButton
            text
            label="Cancel"
            @click="mode = ''"
          />
        </div>
      </form>
      <form v-if="mode === 'change'" class="box form" novalidate aria-label="Correct the lot" @submit.prevent="change">
        <h2>Correct {{ d.lot.lot_number }}</h2>
        <p v-if="d.fixed" class="small">
          A piece of it is on a bench or was cut: what it is, weighs and what was found stand. The bench's own weights
          count anyway.
        </p>
        <ArrivalFields v-model:form="form" v-model:piece="piece" :fault="fault" :fixed="d.fixed" />
        <FormField id="reason" label="Why it is corrected" :fault="fault('reason')"
          ><InputText id="reason" v-model="reason" :invalid="!!fault('reason')" autocomplete="off"
        /></FormField>
        <p v-if="problem?.rest(shownFields)" class="fault" role="alert">{{ problem.rest(shownFields) }}</p>
        <div class="row">
          <PvButton type="submit" label="Keep the correction" :disabled="busy" /><PvButton
            text
            label="Cancel"
            @click="mode = ''"
          />
        </div>
      </form>
      <div class="lay">
        <div><LotPieces :lot="d" @void="(c) => begin('void', c)" /></div>
        <div>
          <LotOnCarcass :lot="d" />
          <LotHistory :history="d.history" />
        </div>
      </div>
    </template>
  </section>
</template>

<style scoped>
.sentence {
  margin: 8px 0;
}
.acts {
  margin: 12px 0;
}
.box {
  margin: 12px 0;
  max-width: 760px;
}
.form {
  display: flex;
  flex-direction: column;
  gap: 14px;
}
.known::first-letter {
  text-transform: uppercase;
}
.lay {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 40px;
  margin-top: 18px;
  align-items: start;
}
@media (max-width: 900px) {
  .lay {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
