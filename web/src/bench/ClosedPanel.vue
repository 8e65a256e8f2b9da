<script setup lang="ts">
// The end of a piece: one line that says how it went, what went where, and the way on. Opened again only with a reason.
import { computed, ref } from 'vue'
import PvButton from 'primevue/button'
import type { S } from '../api/client'
import { usePracticeMark } from '../learn/useLearning'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { percent, shortName } from '../words/shown'
import YieldsTable from './YieldsTable.vue'
import { counted, say } from '../words/say'

const props = defineProps<{ board: S['Board']; mayCut: boolean; problem?: string }>()
const emit = defineEmits<{ judge: []; rail: []; reopen: [string]; again: [string] }>()
/** What was sold whole and may be cut again. */
const again = computed(() => props.board.rows.filter((r) => props.board.cut_again?.includes(r.event_id)))
const { mass } = useShop()
const { me, leads } = useMe()
const { data: mark } = usePracticeMark(props.board.id)
/** A practice piece is seen beside the house by whose it is, and by who leads. */
const reviewed = computed(() => mark.value?.practice && (mark.value.member === me.value?.id || leads.value))
const asking = ref(false)
const reason = ref('')
const root = computed(() => props.board.rows.find((r) => r.kind === 'opened'))
const off = computed(() =>
  props.board.expected
    .filter((e) => e.kind === 'muscle' && e.times && (e.taken_g < e.low_g || e.taken_g > e.high_g))
    .map((e) => shortName(e.name).toLowerCase()),
)
const verdict = computed(() => {
  const b = props.board
  const lossClass = b.balance.verdict === 'loss_high' ? say('more than the limit') : say('within the limit')
  const odd = off.value.length ? say`, ${off.value.join(say(' and '))} far from the usual weight` : ''
  const done = say`${b.piece.carcass ? say('Broken') : say('Finished')} in ${counted(Math.round(b.minutes), 'minute')}`
  return say`${done}: ${mass(b.balance.loss_g ?? 0)} of loss, ${percent(b.balance.loss_pct ?? 0)}, ${lossClass}${odd}.`
})
const waste = computed(() => props.board.rows.filter((r) => r.kind === 'discarded'))
const opened = computed(() => props.board.rows.filter((r) => r.kind !== 'opened' && r.closed))
</script>

<template>
  <div class="box stack" data-test="closed">
    <h2>{{ verdict }}</h2>
    <p v-if="board.close_reason">“{{ board.close_reason }}”</p>
    <p v-if="board.piece.carcass">Each piece hangs on the rail with its own weight.</p>
    <template v-else>
      <p>
        Every gram is accounted for: {{ mass(root?.weight_g ?? 0) }} in, {{ mass(board.balance.output_g) }} out,
        {{ mass(board.balance.loss_g ?? 0) }} lost.
      </p>
      <p v-if="opened.length" class="small">
        Opened: {{ opened.map((r) => say`${shortName(r.name)}, ${mass(r.loss_g ?? 0)} lost`).join('; ') }}.
      </p>
      <p v-if="waste.length" class="small">
        Into the bin:
        {{
          waste
            .map(
              (r) =>
                `${shortName(r.name)} ${mass(r.weight_g)}${r.reason && r.reason !== 'as usual' ? `, ${r.reason}` : ''}`,
            )
            .join('; ')
        }}.
      </p>
    </template>
    <div v-if="again.length && mayCut" class="row">
      <PvButton
        v-for="r in again"
        :key="r.event_id"
        severity="secondary"
        :label="say`Cut the ${shortName(r.name).toLowerCase()} again`"
        data-test="again"
        @click="emit('again', r.event_id)"
      />
    </div>
    <div class="row">
      <PvButton v-if="board.piece.carcass" label="To the rail" autofocus @click="emit('rail')" />
      <PvButton v-else label="Judge the muscles" autofocus @click="emit('judge')" />
      <RouterLink :to="{ name: 'replay', params: { breakdown: board.id } }">Every event of it</RouterLink>
      <RouterLink
        v-if="reviewed"
        :to="{ name: 'practice', params: { breakdown: board.id } }"
        data-test="practice-review"
        >Beside the house</RouterLink
      >
      <PvButton v-if="mayCut && !board.piece.carcass && !asking" text label="Open it again" @click="asking = true" />
    </div>
    <YieldsTable v-if="!board.piece.carcass" :breakdown="board.id" />
    <form
      v-if="asking"
      class="row"
      novalidate
      @submit.prevent="reason.trim() && emit('reopen', reason.trim())"
      @keydown.stop
    >
      <input
        id="reopen-reason"
        v-model="reason"
        maxlength="200"
        placeholder="why it is opened again"
        aria-label="Why it is opened again"
      />
      <PvButton type="submit" severity="secondary" label="Open it" :disabled="!reason.trim()" />
    </form>
    <p v-if="problem" class="fault" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
input {
  font: inherit;
  min-height: 56px;
  flex: 1;
  min-width: 220px;
  border: 1px solid var(--line);
  border-radius: 2px;
  padding: 0 10px;
  background: var(--surface);
  color: var(--ink);
}
</style>
