<script setup lang="ts">
// A practice piece beside the house: step by step minutes and yields, what else is to be said, and a head cutter.
import { computed } from 'vue'
import StateNote from '../components/StateNote.vue'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { useTitle } from '../shell/title'
import { counted, say } from '../words/say'
import { percent, shortName } from '../words/shown'
import HouseNotes from './HouseNotes.vue'
import StepSign from './StepSign.vue'
import { levels, useReview } from './useLearning'

const props = defineProps<{ breakdown: string }>()
const { mass } = useShop()
const { me } = useMe()
const { data: r, error, isLoading, refetch, sign } = useReview(props.breakdown)
const own = computed(() => r.value?.member === me.value?.id)
const level = computed(() => levels.find((l) => l.id === String(r.value?.level))?.name.toLowerCase() ?? '')
const sentence = computed(() => {
  const x = r.value
  if (!x) return ''
  const who = own.value ? say('You') : x.name
  if (!x.closed)
    return say`${who} ${own.value ? say('are') : say('is')} cutting it: nothing to compare before it is finished.`
  const longer = x.minutes - x.house_minutes
  const time = !x.timed
    ? say('nobody else has cut one like it')
    : Math.abs(longer) < 0.5
      ? say('as fast as the others')
      : longer > 0
        ? say`${counted(Math.round(longer), 'minute')} more than the others`
        : say`${counted(Math.round(-longer), 'minute')} less than the others`
  const signed = x.steps.filter((s) => s.signed?.signed).length
  const steps = x.steps.filter((s) => s.kind !== 'loss').length
  return say`${Math.round(x.minutes)} minutes, ${time}; ${signed} of ${steps} steps are signed off.`
})
const odd = (s: string | undefined) => ({ below: say('below the house'), above: say('above the house') })[s ?? ''] ?? ''
useTitle(() => r.value && `${shortName(r.value.piece_name)} ${r.value.lot_number}`)
</script>

<template>
  <section class="page" data-test="practice">
    <StateNote :error="error" :loading="isLoading" what="the practice piece" @retry="refetch()" />
    <template v-if="r">
      <p class="label">
        {{ r.name }} · {{ shortName(r.piece_name) }} {{ r.lot_number }} / {{ r.piece_number }} · {{ r.plan_name }} ·
        {{ level }}
      </p>
      <h1 class="sentence" data-test="practice-sentence">{{ sentence }}</h1>
      <p v-if="r.closed" class="small">
        Minutes beside
        {{
          r.timed ? say`what others took for ${counted(r.timed, 'piece')}, scaled to its weight` : say('nobody’s yet')
        }}; yields beside
        {{ r.past >= 5 ? say`${r.past} earlier pieces of the house` : say('the atlas: the house has too few yet') }}.
      </p>
      <table v-if="r.steps.length" v-wide class="steps">
        <thead>
          <tr>
            <th>Step</th>
            <th class="n">Minutes</th>
            <th class="n">Others</th>
            <th class="n">Weight</th>
            <th class="n">Of the piece</th>
            <th class="n">Usual</th>
            <th>Said</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="s in r.steps" :key="s.step" :data-step="s.step">
            <td>{{ shortName(s.name) }}</td>
            <td class="n">{{ s.minutes ? s.minutes.toFixed(1) : '' }}</td>
            <td class="n">{{ s.house_minutes ? s.house_minutes.toFixed(1) : '' }}</td>
            <td class="n">{{ mass(s.weight_g, 2) }}</td>
            <td class="n" :class="{ odd: s.odd }">{{ percent(s.pct) }}</td>
            <td class="n">
              {{ percent(s.low_pct) }} to {{ percent(s.high_pct)
              }}<span v-if="s.odd" class="small odd says">{{ odd(s.odd) }}</span>
            </td>
            <td>
              <StepSign v-if="s.kind !== 'loss'" :step="s" :may="r.may_sign" :sign="sign" />
            </td>
          </tr>
        </tbody>
      </table>
      <template v-if="r.remarks.length">
        <h2>What else is to be said</h2>
        <ul>
          <li v-for="x in r.remarks" :key="x">{{ x }}</li>
        </ul>
      </template>
      <h2>Notes and photographs of this piece</h2>
      <HouseNotes :notes="r.notes" :about="{ breakdown_id: r.breakdown_id }" may />
      <RouterLink class="back no-print" :to="{ name: 'bench', params: { breakdown: r.breakdown_id } }"
        >The piece at the bench</RouterLink
      >
    </template>
  </section>
</template>

<style scoped>
.odd {
  color: var(--act);
  font-weight: 650;
}
.says {
  display: block;
}
.back {
  display: inline-flex;
  align-items: center;
  min-height: 44px;
}
.steps td {
  vertical-align: top;
}
</style>
