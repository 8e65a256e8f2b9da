<script setup lang="ts">
// One batch: what is to go in, what was weighed, what came out, what was lost; ended with a reason where that is much.
import { computed, ref, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import InputText from 'primevue/inputtext'
import PvButton from 'primevue/button'
import { keyOf } from '../api/keys'
import FormField from '../components/FormField.vue'
import StateNote from '../components/StateNote.vue'
import { data, GET } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useFeedback } from '../feedback/useFeedback'
import TraceTable from '../goods/TraceTable.vue'
import { kindNames } from '../goods/tubWords'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { useTitle } from '../shell/title'
import { counted, say } from '../words/say'
import { clockOf, percent, plainDay } from '../words/shown'
import MakingWeigh from './MakingWeigh.vue'
import { useMaking } from './useMakings'

const props = defineProps<{ making: string }>()
const router = useRouter()
const { mass } = useShop()
const { may } = useMe()
const { done, ask } = useFeedback()
const {
  data: m,
  error,
  isLoading,
  refetch,
  weigh,
  undo,
  close,
  reopen,
  drop,
  waiting,
  refused,
} = useMaking(() => props.making)
const { busy, problem, attempt } = useAttempt()
const reason = ref('')
watch(reason, () => (problem.value = undefined))
const open = computed(() => m.value?.state === 'open')
const { data: origin } = useQuery({
  queryKey: computed(() => keyOf('origin', props.making)),
  enabled: computed(() => !!m.value && m.value.meat_g > 0),
  queryFn: () => data(GET('/makings/{making_id}/origin', { params: { path: { making_id: props.making } } })),
})
const sentence = computed(() => {
  const x = m.value
  if (!x) return ''
  const inIt = x.meat_g + x.added_g
  const pieces = x.pieces ? `, ${counted(x.pieces, 'piece')}` : ''
  const is = `${x.name} ${x.lot_number}: `
  if (x.state === 'closed') return say`${is}${mass(x.came_g)}${pieces}, ${percent(x.loss_pct)} lost.`
  if (!inIt) return say`${is}nothing has gone in yet.`
  if (!x.came_g) return say`${is}${mass(inIt)} in it; ${mass(x.expected_g)} should come of it.`
  return say`${is}${mass(x.came_g)} of ${mass(inIt)}; ${mass(x.lost_g)} not found yet.`
})
const back = (id: string) => attempt(() => undo(id))
const end = () =>
  attempt(async () => {
    await close(reason.value)
    done(say`${m.value?.name} ${m.value?.lot_number} is made and lies in stock.`)
  })
const again = () => attempt(() => reopen())
async function away() {
  const yes = await ask({
    title: say('Take this batch away?'),
    text: say('Nothing was weighed for it.'),
    yes: say('Take it away'),
  })
  if (yes)
    await attempt(async () => {
      await drop()
      await router.push({ name: 'blend' })
    })
}
useTitle(() => m.value && `${m.value.name} ${m.value.lot_number}`)
</script>

<template>
  <section class="page">
    <StateNote :error="error" :loading="isLoading" what="the batch" @retry="refetch()" />
    <template v-if="m">
      <div class="spread">
        <h1 class="sentence" data-test="making-sentence">{{ sentence }}</h1>
        <a class="no-print" :href="`/api/v1/makings/${m.id}/sheet.pdf`" target="_blank">Batch sheet to print</a>
      </div>
      <p class="small">
        Made {{ plainDay(m.made_on) }}, use by {{ plainDay(m.use_by)
        }}<template v-if="m.fat_pct !== undefined">; the meat in it is {{ percent(m.fat_pct) }} fat</template>.
      </p>
      <p v-for="b in m.breaks" :key="b" class="fault" role="alert">{{ b }}</p>
      <p v-if="waiting" class="small" role="status">
        {{ counted(waiting, 'weighing') }} {{ waiting === 1 ? say('waits') : say('wait') }} for the network; nothing is
        lost.
      </p>
      <p v-if="refused" class="fault" role="alert">{{ refused }}</p>
      <p v-if="m.allergens.length" class="fault">
        <strong>Contains: {{ m.allergens.join(', ') }}.</strong>
      </p>
      <div class="two">
        <div class="stack">
          <MakingWeigh v-if="open && may('POST /makings/{making_id}/events')" :making="m" :weigh="weigh" />
        </div>
        <div class="stack">
          <h2>Weighed</h2>
          <p v-if="!m.log.length" class="small">Nothing yet.</p>
          <table v-else v-wide data-test="making-log">
            <tbody>
              <tr v-for="l in m.log" :key="l.id">
                <td>{{ clockOf(l.at) }}</td>
                <td>
                  {{ l.name || m.name }} <span class="small">{{ kindNames[l.kind] ?? l.kind }}</span>
                </td>
                <td class="n">{{ mass(l.g) }}{{ l.count ? `, ${l.count}` : '' }}</td>
                <td>
                  <button v-if="open" type="button" class="link" :disabled="busy" @click="back(l.id)">take back</button>
                </td>
              </tr>
            </tbody>
            <tbody>
              <tr class="total">
                <td />
                <td>Not found: lost in the mincer, or not weighed</td>
                <td class="n">{{ mass(m.lost_g) }}</td>
                <td class="small">{{ percent(m.loss_pct) }}; {{ percent(m.limit_pct) }} is usual</td>
              </tr>
            </tbody>
          </table>
          <form v-if="open" class="end" novalidate aria-label="End the batch" @submit.prevent="end">
            <FormField
              v-if="m.loss_pct > m.limit_pct && m.came_g > 0"
              id="making-reason"
              label="Why so much was lost"
              :fault="problem?.at('reason')"
              ><InputText id="making-reason" v-model="reason" :invalid="!!problem?.at('reason')" autocomplete="off"
            /></FormField>
            <p v-if="problem?.rest(['reason'])" class="fault" role="alert">{{ problem.rest(['reason']) }}</p>
            <div class="row">
              <PvButton
                type="submit"
                label="It is made"
                :disabled="!m.came_g || !may('PUT /makings/{making_id}/close')"
                :loading="busy"
                data-test="close-making"
              />
              <PvButton v-if="!m.log.length" text label="Take the batch away" @click="away" />
            </div>
          </form>
          <template v-else>
            <p v-if="m.reason">{{ percent(m.loss_pct) }} lost: {{ m.reason }}</p>
            <p v-if="problem" class="fault" role="alert">{{ problem.message }}</p>
            <PvButton
              v-if="may('PUT /makings/{making_id}/reopen')"
              severity="secondary"
              label="Open it again"
              :loading="busy"
              @click="again"
            />
          </template>
        </div>
      </div>
      <template v-if="m.label.length">
        <h2>On its label</h2>
        <p data-test="label">
          <template v-for="(p, i) in m.label" :key="p.name"
            >{{ i ? ', ' : '' }}<strong v-if="p.allergen">{{ p.name }}</strong
            ><template v-else>{{ p.name }}</template
            >{{ p.meat ? ` (${percent(p.pct, 0)})` : '' }}</template
          >.
        </p>
      </template>
      <template v-if="origin?.length">
        <h2>Where it comes from</h2>
        <TraceTable :rows="origin" used />
      </template>
      <p class="small">
        Mincer: stomper, never fingers; unplugged before it is taken apart. Meat below 4 °C until it is packed; mince is
        cooked through, 71 °C at its centre. What names an allergen goes last. Local codes and your own training come
        first.
      </p>
    </template>
  </section>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1.2fr;
  gap: 32px;
  align-items: start;
  margin: 14px 0;
}
.end {
  display: flex;
  flex-direction: column;
  gap: 10px;
}
.total td {
  font-weight: 600;
}
.link {
  border: 0;
  background: none;
  min-height: 44px;
  color: var(--act);
  text-decoration: underline;
  cursor: pointer;
}
@media (max-width: 900px) {
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
