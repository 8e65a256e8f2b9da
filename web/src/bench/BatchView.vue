<script setup lang="ts">
// Pieces of one kind, cut together: each muscle of all of them is weighed at once and shared by their weights, or one
// piece after another.
import { computed, ref } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import SeamMap, { type MapMark } from '../components/SeamMap.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import type { S } from '../api/client'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { percent, shortName } from '../words/shown'
import BenchHead from './BenchHead.vue'
import BenchHelp from './BenchHelp.vue'
import BenchKeys from './BenchKeys.vue'
import BoardList from './BoardList.vue'
import BookedLine from './BookedLine.vue'
import DiscardPanel from './DiscardPanel.vue'
import FinishPanel from './FinishPanel.vue'
import LivePlate from './LivePlate.vue'
import PieceStrip from './PieceStrip.vue'
import ScaleKeys from './ScaleKeys.vue'
import ScaleCheck from './ScaleCheck.vue'
import ScaleDue from './ScaleDue.vue'
import ScaleStandIn from './ScaleStandIn.vue'
import SeamWords from './SeamWords.vue'
import TempPanel from './TempPanel.vue'
import TubPanel from './TubPanel.vue'
import { newId } from './queue'
import type { Usual } from './doubt'
import { rangeOf } from './useBenchWords'
import { contentFor, slotFor } from './slots'
import { useBatch } from './useBatch'
import { useBoard } from './useBoard'
import { useSteps } from './useSteps'
import { useIdle } from './useIdle'
import { useKeys } from './useKeys'
import { useMinutes } from './useMinutes'
import type { BenchEvent, Content } from './useSync'
import { useWeighing } from './useWeighing'
import { useTitle } from '../shell/title'
import { say } from '../words/say'

const props = defineProps<{ batch: string }>()
const queries = useQueryClient()
const { bare, mass, temperature } = useShop()
const { me, may } = useMe()
const mayCut = computed(() => may('POST /batches/{batch_id}/events'))
const { batch, sum, loadFault, refused, away, pending, load, book, opened, looked, times, undoEntries } = useBatch(
  props.batch,
  () => me.value?.id ?? '',
  (e) => {
    shows(e, nameOf(e))
    void queries.invalidateQueries({ queryKey: keyOf('pieces') })
  },
)
const boards = computed(() => batch.value?.boards ?? [])
const unopened = computed(() => boards.value.filter((b) => !opened(b)))
const allOpened = computed(() => boards.value.length > 0 && unopened.value.length === 0)
const lacks = (b: S['Board'], e: S['Expected']) => times(b, e) < e.want / Math.max(1, boards.value.length)
const isTaken = (e: S['Expected']) => !boards.value.some((b) => lacks(b, e))
const {
  closed,
  panel,
  asking,
  picked,
  said,
  flash,
  bookedHere,
  lastBooked,
  shows,
  forgets,
  target,
  allDone,
  left,
  nextSeam,
  quick,
  finish,
  toggle,
  fault,
  keysOf,
} = useBoard({
  board: sum,
  opened: allOpened,
  isTaken,
  waiting: pending,
  refused,
  bookExpected: (e) => {
    picked.value = e.key
    void bookExpected(e)
  },
})
const { meanwhile, ahead } = useSteps({ board: sum, target, isTaken, waiting: computed(() => new Set<string>()) })
/** What an event was of, in words. */
function nameOf(e: BenchEvent) {
  const name = sum.value?.expected.find((x) => x.id === (e.part ?? e.product))?.name
  return name ? shortName(name).toLowerCase() : say('whole pieces')
}
const {
  reading,
  onScale,
  message: scaleMessage,
  command,
  tub,
  held,
  typed,
  typedWeight,
  quiet,
  canBook,
  doubt,
  take,
  releases,
  letGo,
  holdIt,
  digit,
  backspace,
} = useWeighing(
  computed(() => sum.value?.bench.id),
  () => mayCut.value && !closed.value,
  () => usual(),
)

const ways = [say('all together'), say('one by one')]
const way = ref(ways[1]!)
const pickedPiece = ref('')
const ticked = ref<string[]>([])

const minutes = useMinutes(sum)

const allLooked = computed(() => boards.value.every(looked))
/** The pieces on which the next weighing is booked. */
const turn = computed<S['Board'][]>(() => {
  const t = target.value
  const lacking = !allOpened.value ? unopened.value : t ? boards.value.filter((b) => lacks(b, t)) : boards.value
  if (way.value === ways[0]) return lacking.length ? lacking : boards.value
  const one = boards.value.find((b) => b.id === pickedPiece.value) ?? lacking[0] ?? boards.value[0]
  return one ? [one] : []
})
const whose = computed(() =>
  turn.value.length === boards.value.length
    ? say`all ${boards.value.length}`
    : turn.value.length === 1
      ? say`piece ${turn.value[0]!.piece.number}`
      : say`pieces ${turn.value.map((b) => b.piece.number).join(', ')}`,
)
const what = computed(() => {
  if (!allLooked.value) return say('Check the pieces')
  if (!allOpened.value) return say`The whole ${turn.value.length === 1 ? say('piece') : say('pieces')}: ${whose.value}`
  return target.value ? `${shortName(target.value.name)}: ${whose.value}` : say('Everything is weighed')
})
const expectedNow = computed(() =>
  !allOpened.value
    ? turn.value.reduce((s, b) => s + b.piece.weight_g, 0)
    : target.value
      ? (target.value.expected_g / Math.max(1, target.value.want)) * turn.value.length
      : 0,
)
const hint = computed(() =>
  !allLooked.value
    ? say('Enter when that is done')
    : !allOpened.value
      ? say`about ${mass(expectedNow.value, 2)} by the label`
      : target.value
        ? say`about ${mass(expectedNow.value, 2)}`
        : say('Enter finishes'),
)

/** What is usual of what is booked next. */
const usual = (): Usual => {
  if (!allOpened.value) return { label: expectedNow.value }
  // one by one the others' share is not theirs
  const most = way.value === ways[0] ? left.value : undefined
  return target.value ? { ...rangeOf(target.value, turn.value.length), left: most } : { left: most }
}

const entries = (list: S['Board'][]) => list.map((b) => ({ breakdown_id: b.id, id: newId() }))
async function bookAs(content: Content) {
  const on = turn.value
  const w = on.length ? take() : undefined
  if (!w) return
  said.value = ''
  picked.value = ''
  pickedPiece.value = ''
  panel.value = ''
  await book({ ...content, ...w }, new Date(), entries(on))
}
function bookExpected(e: S['Expected']) {
  return bookAs(contentFor(e))
}
async function look() {
  const found = ticked.value.join(' ')
  ticked.value = []
  await book(
    { kind: 'inspected', ...(found && { note: found }) },
    new Date(),
    entries(boards.value.filter((b) => !looked(b))),
  )
}
function enter() {
  if (asking.value || closed.value || !mayCut.value) return
  if (!allLooked.value) return void look()
  if (!allOpened.value) return void bookAs({ kind: 'opened' })
  if (target.value) return void bookExpected(target.value)
  finish()
}
function undo() {
  const list = undoEntries()
  if (!list.length || closed.value) return
  releases()
  forgets()
  void book({ kind: 'undone' }, new Date(), list)
}
const clocked = (paused: boolean) => boards.value.filter((b) => b.state === 'open' && b.paused === paused)
function pause(at?: Date) {
  const stop = clocked(false)
  const list = stop.length ? stop : clocked(true)
  if (list.length)
    void book(
      { kind: stop.length ? 'paused' : 'resumed', ...(at && { note: say('nobody touched it') }) },
      at ?? new Date(),
      entries(list),
    )
}
const warm = computed(() => sum.value?.temps.filter((t) => t.caution).at(-1) ?? sum.value?.temps.at(-1))
function takeTemp(t: { temp_c: number; source: 'probe' | 'typed' }) {
  panel.value = ''
  void book({ kind: 'measured', ...t }, new Date(), entries(way.value === ways[0] ? boards.value : turn.value))
}
const close = (c: { reason: string; minutes?: number }) =>
  book(
    { kind: 'closed', ...(c.reason && { reason: c.reason }), ...(c.minutes !== undefined && { minutes: c.minutes }) },
    new Date(),
    entries(boards.value.filter((b) => b.state !== 'closed')),
  )
const escape = () => {
  letGo()
  picked.value = ''
  pickedPiece.value = ''
  panel.value = ''
}
const switchWay = () => {
  way.value = ways[1 - ways.indexOf(way.value)]!
}
useIdle(
  () => bookedHere.value && clocked(false).length > 0 && !closed.value && mayCut.value,
  computed(() => batch.value?.events ?? 0),
  (at) => pause(at),
)
const keys = computed(() =>
  keysOf({
    next: nextSeam,
    quick,
    hold: holdIt,
    held: !!held.value,
    undo,
    undoWhat: sum.value?.undo_what ?? (pending.value.sum ? say('what was weighed last') : undefined),
    pause: () => pause(),
    paused: sum.value?.paused ?? false,
    finish,
    more: [
      { key: 'a', name: say('All or one'), group: 'piece', help: say('all together or one by one'), run: switchWay },
    ],
  }),
)
const zero = () => {
  panel.value = ''
  void command({ command: 'zero' })
}
const lots = computed(() => [...new Set(boards.value.map((b) => b.piece.lot_number))].join(', '))
const press = useKeys(keys, {
  enter,
  backspace,
  escape,
  digit: (d) => {
    if (!closed.value && !asking.value) digit(d)
  },
})

const marks = computed<Record<string, MapMark>>(() => {
  const out: Record<string, MapMark> = {}
  for (const [id, w] of Object.entries(sum.value?.fixed?.words ?? {}))
    if (w.code) out[id] = { name: w.name, code: w.code }
  for (const e of sum.value?.expected ?? []) {
    for (const id of e.parts ?? [])
      if (out[id]) out[id].state = isTaken(e) ? 'off' : target.value?.key === e.key ? 'next' : out[id].state
    const mark = out[e.id]
    if (!mark || e.kind !== 'muscle') continue
    const got = boards.value.filter((b) => !lacks(b, e)).length
    if (got)
      mark.line =
        got === boards.value.length
          ? bare(e.taken_g + (pending.value.taken.get(slotFor(e)) ?? 0), 2)
          : say`${got} of ${boards.value.length}`
    mark.state = isTaken(e) ? 'off' : target.value?.key === e.key ? 'next' : e.reachable ? 'plain' : 'waits'
  }
  return out
})
const verdict = (b: S['Board']) => {
  const limit = b.balance.verdict === 'balanced' ? say('within the limit') : say('more than the limit')
  const loss = say`${mass(b.balance.loss_g ?? 0)} of loss, ${percent(b.balance.loss_pct ?? 0)}, ${limit}`
  return say`${loss}; ${b.minutes.toFixed(1)} minutes`
}

useTitle(() => sum.value && `${boards.value.length} × ${shortName(sum.value.piece.name)}`)
</script>

<template>
  <section class="bench" :data-waiting="pending.count">
    <StateNote
      v-if="!batch || !sum"
      :error="loadFault"
      :loading="!loadFault"
      what="the boards"
      class="page"
      @retry="load()"
    />
    <template v-else>
      <BenchHead
        :title="say`${boards.length} × ${sum.piece.name}, together`"
        :of="`${lots} · ${sum.fixed?.plan.name ?? ''}`"
        :bench="sum.bench.name"
        :who="mayCut ? say`${me?.name} cuts` : say('View only')"
        :minutes="minutes"
        :paused="sum.paused"
        :away="away"
        :waiting="pending.count"
        :keys="keys"
        @press="press"
      />
      <div v-if="!closed && (reading.simulated || scaleMessage)" class="scale">
        <ScaleStandIn v-if="reading.simulated" :suggest-g="expectedNow" @command="command" />
        <span v-if="scaleMessage" class="fault">{{ scaleMessage }}</span>
      </div>
      <ScaleDue v-if="!closed && panel !== 'check'" :bench="sum.bench.id" @check="panel = 'check'" />
      <div class="lay">
        <div class="left">
          <SeamMap
            v-if="sum.fixed"
            class="map"
            :map="sum.fixed.seam_map"
            :marks="marks"
            :picked="target?.kind === 'muscle' ? target.id : undefined"
            :title="say`Seam map of ${sum.piece.name}`"
          />
          <SeamWords
            v-model:ticked="ticked"
            :board="sum"
            :target="target"
            :opened="allOpened"
            :looked="allLooked"
            :meanwhile="meanwhile"
            :ahead="ahead"
          />
        </div>
        <div class="right">
          <FinishPanel
            v-if="panel === 'finish'"
            :board="sum"
            :minutes="minutes"
            :problem="refused?.problem"
            @back="panel = ''"
            @close="close"
          />
          <div v-else-if="closed" class="box stack" data-test="closed">
            <h2>All {{ boards.length }} are finished, {{ sum.minutes.toFixed(0) }} minutes shared by their weights.</h2>
            <p v-for="b in boards" :key="b.id">
              <RouterLink :to="{ name: 'judge', params: { breakdown: b.id } }">Piece {{ b.piece.number }}</RouterLink
              >: {{ verdict(b) }}.
            </p>
            <p class="small">
              What was weighed of several together is shared by their weights: exact for all of them, an estimate for
              each.
            </p>
          </div>
          <LivePlate
            v-else
            v-bind="{ held: !!held, tub: tub?.name }"
            :reading="reading"
            :typed="typed"
            :typed-g="typedWeight.g"
            :typed-fault="typed ? typedWeight.fault : ''"
            :what="what"
            :hint="hint"
            :can-book="canBook || allDone || (!allLooked && mayCut)"
            :flash="flash"
            :quiet="quiet || said"
            :doubt="doubt?.says"
            @book="enter"
          />
          <BookedLine
            v-if="!closed && panel !== 'finish'"
            :booked="lastBooked"
            :can-undo="mayCut"
            :fault="fault"
            :not-booked="refused?.event.net_g ? mass(refused.event.net_g) : ''"
            @undo="undo"
          />
          <div v-if="!closed" class="spread">
            <UnitToggle v-model="way" :options="ways" label="How they are weighed" /><span class="small">{{
              way === ways[0] ? say('The weight is shared by theirs.') : say('Each has its own weight.')
            }}</span>
          </div>
          <PieceStrip
            :boards="boards"
            :turn="closed ? [] : turn.map((b) => b.id)"
            :done="(b) => (target ? !lacks(b, target) : opened(b))"
            @pick="(id) => ((pickedPiece = id), (way = ways[1]!))"
          />
          <TubPanel
            v-if="panel === 'tubs'"
            :used="tub"
            :on-scale="onScale.net_g"
            :stable="onScale.status === 'ok' && onScale.stable"
            @use="(t) => ((tub = t), (panel = ''))"
            @zero="zero"
            @check="panel = 'check'"
            @back="panel = ''"
          />
          <ScaleCheck v-if="panel === 'check'" :bench="sum.bench.id" :reading="onScale" @back="panel = ''" />
          <TempPanel
            v-if="panel === 'temp'"
            :bench="sum.bench.id"
            :of="whose"
            :temps="sum.temps"
            @take="takeTemp"
            @back="panel = ''"
          />
          <DiscardPanel
            v-if="panel === 'discard'"
            :waste="sum.expected.filter((e) => e.kind === 'waste')"
            @back="panel = ''"
            @pick="(d) => bookAs({ kind: 'discarded', ...d })"
          />
          <p v-if="warm && panel !== 'temp'" :class="warm.caution ? 'fault' : 'small'">
            {{ warm.of }}: {{ temperature(warm.c) }}. {{ warm.caution }}
          </p>
          <BoardList
            v-if="!['tubs', 'check', 'temp', 'discard', 'finish'].includes(panel)"
            :board="sum"
            :taken="pending.taken"
            :times="pending.times"
            :pending-sum="pending.sum"
            :picked="target?.key"
            @pick="(k) => (picked = k)"
          />
        </div>
      </div>
      <footer v-if="!closed" class="foot">
        <BenchHelp v-if="panel === 'help'" :keys="keys" />
        <BenchKeys :keys="keys" @press="press">
          <ScaleKeys
            :tub="tub?.name"
            :tared="!!reading.tare_g"
            @tubs="toggle('tubs', true)"
            @tare="command({ command: reading.tare_g ? 'clear_tare' : 'tare' })"
          />
        </BenchKeys>
      </footer>
    </template>
  </section>
</template>

<style scoped src="./bench.css"></style>
