<script setup lang="ts">
// The bench: the map, the next seam, the live weight, and one key or touch for each weighing.
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import SeamMap, { type MapMark } from '../components/SeamMap.vue'
import StateNote from '../components/StateNote.vue'
import { data, POST, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { useMe } from '../shell/me'
import { useShop } from '../shell/shop'
import { shortName } from '../words/shown'
import BenchHead from './BenchHead.vue'
import BenchHelp from './BenchHelp.vue'
import BenchKeys from './BenchKeys.vue'
import BoardList from './BoardList.vue'
import BookedLine from './BookedLine.vue'
import ClosedPanel from './ClosedPanel.vue'
import DiscardPanel from './DiscardPanel.vue'
import FinishPanel from './FinishPanel.vue'
import HandPanel from './HandPanel.vue'
import LivePlate from './LivePlate.vue'
import OtherPanel from './OtherPanel.vue'
import MusclePanel from './MusclePanel.vue'
import RowsPanel from './RowsPanel.vue'
import ScaleKeys from './ScaleKeys.vue'
import ScaleCheck from './ScaleCheck.vue'
import ScaleDue from './ScaleDue.vue'
import ScaleStandIn from './ScaleStandIn.vue'
import SeamWords from './SeamWords.vue'
import TempPanel from './TempPanel.vue'
import { contentFor, slotFor } from './slots'
import { useBench } from './useBench'
import { useBenchWords } from './useBenchWords'
import { useBoard } from './useBoard'
import type { BenchEvent } from './useSync'
import { useIdle } from './useIdle'
import { muscleOf, useInside } from './useInside'
import { useKeys } from './useKeys'
import { useMinutes } from './useMinutes'
import { useSteps } from './useSteps'
import TubPanel from './TubPanel.vue'
import { useWeighing } from './useWeighing'
import { useTitle } from '../shell/title'
import { say } from '../words/say'

/** What is not for the first load of the bench. */
const KnifeSection = defineAsyncComponent(() => import('./KnifeSection.vue'))
const CutHere = defineAsyncComponent(() => import('./CutHere.vue'))
const PracticePanel = defineAsyncComponent(() => import('./PracticePanel.vue'))
const props = defineProps<{ breakdown: string }>()
const router = useRouter()
const queries = useQueryClient()
const { bare, mass, temperature } = useShop()
const { me, may } = useMe()
const mayCut = computed(() => may('POST /breakdowns/{breakdown_id}/events'))

const { board, loadFault, refused, away, pending, load, book, undoTarget } = useBench(
  props.breakdown,
  () => me.value?.id ?? '',
  (e) => {
    shows(e, nameOf(e))
    if (e.kind === 'closed' || e.kind === 'opened') void queries.invalidateQueries()
  },
)
const opened = computed(() => board.value?.state !== 'waiting' || pending.value.opened)
const isTaken = (e: S['Expected']) => e.times + (pending.value.times.get(slotFor(e)) ?? 0) >= e.want
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
  nextSeam: nextPart,
  quick: quickPart,
  finish: finishAll,
  toggle,
  fault,
  keysOf,
} = useBoard({ board, opened, isTaken, waiting: pending, refused, bookExpected: (e) => void bookExpected(e) })
/** What an event was of, in words. */
function nameOf(e: BenchEvent) {
  const b = board.value
  const id = e.part ?? e.product ?? b?.rows.find((r) => r.event_id === e.target)?.id
  if (e.kind === 'opened' || !id) return say('the whole piece')
  const name =
    b?.expected.find((x) => x.id === id)?.name ??
    b?.fixed?.plan.products.find((p) => p.id === id)?.name ??
    b?.rows.find((r) => r.id === id)?.name
  return shortName(name ?? id).toLowerCase()
}

const minutes = useMinutes(board)
const { meanwhile, ahead } = useSteps({ board, target, isTaken, waiting: computed(() => pending.value.steps) })
const tick = (step: string) => void book({ kind: 'ticked', step })
const skip = (step: string) => void book({ kind: 'skipped', step })
/** Parts that were touched to be booked as one block. */
const together = ref<string[]>([])
const touchPart = (id: string) => {
  together.value = together.value.includes(id) ? together.value.filter((x) => x !== id) : [...together.value, id]
}

/** What was found when the piece was looked over, until that is booked. */
const ticked = ref<string[]>([])
const looked = computed(
  () =>
    board.value?.looked === true || board.value?.state !== 'waiting' || pending.value.opened || pending.value.looked,
)
/** The muscle that is open, by the event of its weighing; and the weighing that is to be weighed again. */
const node = ref('')
const inside = useInside(board, node)
const insidePick = ref('')
const count = ref('')
const again = ref('')
const insideTarget = computed(
  () =>
    inside.value?.items.find((i) => i.key === insidePick.value) ??
    inside.value?.items.find((i) => !i.times) ??
    inside.value?.items[0],
)
const againRow = computed(() => board.value?.rows.find((r) => r.event_id === again.value))
watch(inside, (i) => {
  if (i?.closed) node.value = ''
})

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
  computed(() => board.value?.bench.id),
  () => mayCut.value && !closed.value,
  () => (panel.value === 'other' ? {} : usual()), // what was done otherwise has no usual weight
)
const times = computed(() =>
  target.value ? target.value.times + (pending.value.times.get(slotFor(target.value)) ?? 0) : 0,
)
/** A step that leaves nothing to weigh, while no weight is there to be booked. */
const stepNow = computed(() =>
  opened.value && !closed.value && !inside.value && !canBook.value && !typed.value
    ? meanwhile.value[0]?.words
    : undefined,
)
const { what, hint, usual, insideNote } = useBenchWords({
  board,
  looked,
  opened,
  closed,
  target,
  times,
  inside,
  insideTarget,
  againRow,
  left,
  step: stepNow,
})

async function bookAs(content: Omit<S['BenchEvent'], 'id' | 'at' | 'bench_id' | 'by'>) {
  const w = take()
  if (!w) return
  said.value = ''
  picked.value = ''
  insidePick.value = ''
  panel.value = ''
  if (again.value && content.kind !== 'weighed_again') again.value = ''
  await book({ ...content, ...w })
}
/** Books what comes off the muscle that is open. */
function bookInside(i: { kind: string; id: string }) {
  const n = { node: node.value }
  if (i.kind === 'product') {
    const portions = Number(count.value)
    count.value = ''
    return bookAs({ kind: 'portioned', product: i.id, ...n, ...(portions && { count: portions }) })
  }
  if (i.kind === 'end') return bookAs({ kind: 'seamed_off', part: i.id, ...n })
  if (i.kind === 'waste') return bookAs({ kind: 'discarded', part: i.id, reason: 'as usual', ...n })
  return bookAs({ kind: 'trimmed', part: i.id, ...n })
}
async function bookAgain() {
  const target = again.value
  again.value = ''
  await bookAs({ kind: 'weighed_again', target })
}
/** Books parts that left together as a block of no step: the log keeps its parts. */
function bookBlock(b: { node: string; holds: Record<string, number>; name: string }) {
  const block = say`free ${b.name}`.slice(0, 60).trim()
  return bookAs({ kind: 'parted', block, holds: b.holds, ...(b.node && { node: b.node }), note: b.name.slice(0, 200) })
}
function bookProduct(p: { node: string; product: string; count?: number }) {
  return bookAs({
    kind: 'portioned',
    product: p.product,
    ...(p.node && { node: p.node }),
    ...(p.count && { count: p.count }),
  })
}
/** What was sold whole hangs on the rail again, and is planned like any other piece. */
const cutAgain = (row: string) =>
  hand(async () => {
    const { piece_id } = await data(
      POST('/breakdowns/{breakdown_id}/again', {
        params: { path: { breakdown_id: props.breakdown } },
        body: { row },
      }),
    )
    await queries.invalidateQueries()
    await router.push({ name: 'plan', params: { piece: piece_id } })
  })
/** The word for who takes it stands in the log; the clock stops, and everything is confirmed before it goes. */
const { busy: handing, problem: handFault, attempt: hand } = useAttempt()
const handOver = (to: { bench: string; note: string }) =>
  hand(async () => {
    if (to.note.trim()) await book({ kind: 'noted', note: to.note.trim() })
    if (opened.value && !board.value?.paused) await book({ kind: 'paused', note: say('handed over') })
    await settled()
    await data(
      PUT('/breakdowns/{breakdown_id}/bench', {
        params: { path: { breakdown_id: props.breakdown } },
        body: { bench_id: to.bench },
      }),
    )
    await queries.invalidateQueries()
    await router.push({ name: 'rail' })
  })
/** Once nothing waits to be confirmed any more. */
const settled = () =>
  new Promise<void>((done) => {
    const stop = watch(
      () => pending.value.count,
      (n) => {
        if (n > 0) return
        done()
        void Promise.resolve().then(() => stop())
      },
      { immediate: true },
    )
  })
async function look() {
  const found = ticked.value.join(' ')
  ticked.value = []
  await book({ kind: 'inspected', ...(found && { note: found }) })
}
function bookExpected(e: S['Expected']) {
  return bookAs(contentFor(e))
}
function enter() {
  if (asking.value || closed.value || !mayCut.value) return
  if (!looked.value) return void look()
  if (!opened.value) return void bookAs({ kind: 'opened' })
  if (again.value) return void bookAgain()
  if (inside.value && insideTarget.value) return void bookInside(insideTarget.value)
  if (meanwhile.value[0] && !canBook.value && !typed.value) return void tick(meanwhile.value[0].id)
  if (target.value) return void bookExpected(target.value)
  finish()
}
function finish() {
  const undone = board.value?.rows.find(
    (r) => r.kind === 'seamed_off' && !r.closed && board.value?.rows.some((x) => x.parent === r.event_id),
  )
  if (undone && opened.value && !closed.value) {
    // it would be refused: the muscle that is in the way is shown instead
    openMuscle(undone.event_id)
    said.value = say`${shortName(undone.name)} was opened and is not done yet. Finish it first.`
    return
  }
  finishAll()
}
/** Books as the next part of a kind, of the muscle that is open or of the piece. */
function quick(kind: 'trim' | 'fat' | 'bone') {
  if (!inside.value) return quickPart(kind)
  const i = inside.value.items.find((x) => x.kind === kind)
  if (i) void bookInside(i)
}
function nextSeam() {
  if (inside.value) {
    const at = inside.value.items.findIndex((i) => i.key === insideTarget.value?.key)
    insidePick.value = inside.value.items[(at + 1) % inside.value.items.length]?.key ?? ''
    return
  }
  nextPart()
}
function undo() {
  const target = undoTarget()
  if (!target || closed.value) return
  releases()
  forgets()
  void book({ kind: 'undone', target })
}
const pause = () => opened.value && !closed.value && void book({ kind: board.value?.paused ? 'resumed' : 'paused' })
const warm = computed(() => board.value?.temps.at(-1))
function takeTemp(t: { temp_c: number; source: 'probe' | 'typed' }) {
  panel.value = ''
  void book({ kind: 'measured', ...t, ...(inside.value && { node: node.value }) })
}
const pickPart = (id: string) => {
  if (panel.value === 'other') return touchPart(id)
  const e = board.value?.expected.find((x) => x.id === id)
  if (e) picked.value = e.key
}
const close = (c: { reason: string; minutes?: number }) =>
  book({
    kind: 'closed',
    ...(c.reason && { reason: c.reason }),
    ...(c.minutes !== undefined && { minutes: c.minutes }),
  })
const escape = () => {
  if (inside.value && !typed.value && panel.value === '') node.value = ''
  letGo()
  picked.value = ''
  panel.value = ''
  again.value = ''
  insidePick.value = ''
}
/** Opens a muscle: the one that was weighed last, once it is confirmed, where none is named. */
const opening = ref(false)
function openMuscle(named?: string) {
  opening.value = !named && pending.value.count > 0
  const id =
    named ??
    (opening.value ? undefined : board.value?.rows.filter((r) => r.kind === 'seamed_off' && !r.closed).at(-1)?.event_id)
  if (id && !closed.value) {
    node.value = id
    panel.value = ''
  }
}
watch(
  () => pending.value.count,
  (n) => n === 0 && opening.value && openMuscle(),
)
const move = (target: string, to: { part?: string; product?: string }) => {
  panel.value = ''
  void book({ kind: 'moved', target, ...to })
}
const undoOne = (target: string) => {
  panel.value = ''
  releases()
  void book({ kind: 'undone', target })
}
const doneInside = (why: string) => void book({ kind: 'closed', node: node.value, ...(why && { reason: why }) })
const reopen = (why: string) => void book({ kind: 'reopened', reason: why })
useIdle(
  () => bookedHere.value && opened.value && !closed.value && !board.value?.paused && mayCut.value,
  computed(() => board.value?.booked ?? 0),
  (at) => void book({ kind: 'paused', note: say('nobody touched it') }, at),
)

const keys = computed(() =>
  keysOf({
    next: nextSeam,
    quick,
    hold: holdIt,
    held: !!held.value,
    undo,
    undoWhat: board.value?.undo_what ?? (pending.value.sum ? say('what was weighed last') : undefined),
    pause,
    paused: board.value?.paused ?? false,
    finish,
    more: [
      {
        key: 'o',
        name: say('Open'),
        group: 'piece',
        off: !opened.value,
        help: say('dress and portion the muscle that was weighed last'),
        run: () => openMuscle(),
      },
      {
        key: 'c',
        name: say('Otherwise'),
        group: 'piece',
        off: !opened.value,
        help: say('several parts as one block, or another product than the plan says'),
        run: () => {
          together.value = []
          toggle('other')
        },
      },
      {
        key: 'g',
        name: say('Hand over'),
        group: 'more',
        off: !!board.value?.batch_id,
        help: say('to another bench, which goes on where this one stopped'),
        run: () => toggle('hand', true),
      },
      {
        key: 'k',
        name: say('Practice'),
        group: 'more',
        off: !!board.value?.batch_id,
        help: say('a piece that is cut to learn: whose, and how much the bench says'),
        run: () => toggle('practice', true),
      },
      {
        key: 'l',
        name: say('List'),
        group: 'piece',
        off: !opened.value,
        help: say('what was weighed: weigh again, move, undo'),
        run: () => toggle('rows'),
      },
    ],
  }),
)
const zero = () => {
  panel.value = ''
  void command({ command: 'zero' })
}
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
  for (const [id, w] of Object.entries(board.value?.fixed?.words ?? {}))
    if (w.code) out[id] = { name: w.name, code: w.code }
  for (const e of board.value?.expected ?? []) {
    for (const id of e.parts ?? [])
      if (out[id]) out[id].state = isTaken(e) ? 'off' : target.value?.key === e.key ? 'next' : out[id].state
    const mark = out[e.id]
    if (!mark || e.kind !== 'muscle') continue
    const taken = isTaken(e)
    if (taken) mark.line = bare(e.taken_g + (pending.value.taken.get(slotFor(e)) ?? 0), 2)
    mark.state = inside.value
      ? muscleOf(inside.value.part) === e.id
        ? 'next'
        : taken
          ? 'off'
          : 'plain'
      : taken
        ? 'off'
        : target.value?.key === e.key
          ? 'next'
          : e.reachable
            ? 'plain'
            : 'waits'
  }
  return out
})
const seams = computed(() => board.value?.expected.some((e) => e.kind === 'muscle') ?? false)
/** The steps of this plan, under what was chosen, on paper. */
const card = computed(() => {
  const plan = board.value?.fixed?.plan
  const chosen = Object.entries(plan?.chosen ?? {}).map(([o, c]) => `${o}:${c}`)
  const asked = new URLSearchParams({ plan: plan?.id ?? '', chosen: chosen.join(',') })
  return `/api/v1/atlas/pieces/${board.value?.piece.atlas_id}/card.pdf?${asked}`
})
const goJudge = () => router.push({ name: 'judge', params: { breakdown: props.breakdown } })

useTitle(() => board.value && `${shortName(board.value.piece.name)} ${board.value.piece.lot_number}`)
</script>

<template>
  <section class="bench" :data-waiting="pending.count">
    <StateNote v-if="!board" :error="loadFault" :loading="!loadFault" what="the board" class="page" @retry="load()" />
    <template v-else>
      <BenchHead
        :title="board.piece.name"
        :of="say`${board.piece.lot_number} · day ${board.piece.age_days} · ${board.fixed?.plan.name ?? ''}`"
        :bench="board.bench.name"
        :who="mayCut ? say`${me?.name} cuts` : say('View only')"
        :minutes="minutes"
        :paused="board.paused"
        :away="away"
        :waiting="pending.count"
        :keys="keys"
        @press="press"
      >
        <a :href="card" target="_blank" data-test="card">Steps on paper</a>
        <RouterLink v-if="board.batch_id" :to="{ name: 'batch', params: { batch: board.batch_id } }"
          >Back to batch</RouterLink
        >
      </BenchHead>
      <div v-if="!closed && (reading.simulated || scaleMessage)" class="scale">
        <ScaleStandIn
          v-if="reading.simulated"
          :suggest-g="opened ? target?.expected_g : board.piece.weight_g"
          @command="command"
        />
        <span v-if="scaleMessage" class="fault">{{ scaleMessage }}</span>
      </div>
      <ScaleDue v-if="!closed && panel !== 'check'" :bench="board.bench.id" @check="panel = 'check'" />
      <div class="lay">
        <div class="left" :class="{ cutting: opened && !closed }">
          <SeamMap
            v-if="board.fixed"
            class="map"
            keyed
            :map="board.fixed.seam_map"
            :marks="marks"
            :pickable="opened && !closed && seams"
            :picked="inside ? muscleOf(inside.part) : target?.kind === 'muscle' ? target.id : undefined"
            :title="say`Seam map of ${board.piece.name}`"
            @pick="pickPart"
          />
          <KnifeSection
            v-if="board.fixed && opened && !closed"
            :piece="board.piece.atlas_id"
            :muscle="inside ? muscleOf(inside.part) : target?.kind === 'muscle' ? target.id : undefined"
          />
          <CutHere
            v-if="opened && !closed && target?.cut_from && board.fixed"
            :key="target.key"
            :piece="board.piece.atlas_id"
            :from="target.cut_from"
            :called="target.name"
          />
          <SeamWords
            v-model:ticked="ticked"
            :board="board"
            :target="target"
            :opened="opened"
            :looked="looked"
            :inside="insideNote"
            :meanwhile="meanwhile"
            :ahead="ahead"
            :may="mayCut"
            @tick="tick"
            @skip="skip"
          />
        </div>
        <div class="right">
          <FinishPanel
            v-if="panel === 'finish'"
            :board="board"
            :minutes="minutes"
            :problem="refused?.problem"
            @back="panel = ''"
            @close="close"
          />
          <ClosedPanel
            v-else-if="closed"
            :board="board"
            :may-cut="mayCut"
            :problem="fault || handFault?.message"
            @judge="goJudge"
            @rail="router.push({ name: 'rail' })"
            @reopen="reopen"
            @again="cutAgain"
          />
          <LivePlate
            v-else
            v-bind="{ held: !!held, tub: tub?.name }"
            :reading="reading"
            :typed="typed"
            :typed-g="typedWeight.g"
            :typed-fault="typed ? typedWeight.fault : ''"
            :what="what"
            :hint="hint"
            :can-book="canBook || allDone || ((!looked || !!stepNow) && mayCut)"
            :flash="flash"
            :quiet="quiet || said"
            :doubt="doubt?.says"
            @book="enter"
          />
          <BookedLine
            v-if="!closed && panel !== 'finish'"
            :booked="lastBooked"
            :can-undo="mayCut"
            :fault="fault || handFault?.message || ''"
            :not-booked="refused?.event.net_g ? mass(refused.event.net_g) : ''"
            @undo="undo"
          />
          <MusclePanel
            v-if="inside && !closed && panel === ''"
            :inside="inside"
            :piece="board.piece.atlas_id"
            :picked="insideTarget?.key"
            :count="count"
            :products="board.fixed?.plan.products ?? []"
            @pick="(k) => (insidePick = k)"
            @count="(n) => (count = n)"
            @done="doneInside"
            @back="node = ''"
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
          <ScaleCheck v-if="panel === 'check'" :bench="board.bench.id" :reading="onScale" @back="panel = ''" />
          <TempPanel
            v-if="panel === 'temp'"
            :bench="board.bench.id"
            :of="inside ? shortName(inside.name).toLowerCase() : say('the piece')"
            :temps="board.temps"
            @take="takeTemp"
            @back="panel = ''"
          />
          <RowsPanel
            v-if="panel === 'rows'"
            :board="board"
            @again="(id) => ((again = id), (panel = ''))"
            @undo="undoOne"
            @move="move"
            @open="openMuscle"
            @back="panel = ''"
          />
          <DiscardPanel
            v-if="panel === 'discard'"
            :waste="board.expected.filter((e) => e.kind === 'waste')"
            @back="panel = ''"
            @pick="(d) => bookAs({ kind: 'discarded', ...d })"
          />
          <OtherPanel
            v-if="panel === 'other'"
            :board="board"
            :chosen="together"
            :can-book="canBook"
            @toggle="touchPart"
            @block="bookBlock"
            @product="bookProduct"
            @back="panel = ''"
          />
          <HandPanel
            v-if="panel === 'hand'"
            :bench="board.bench.id"
            :busy="handing"
            @hand="handOver"
            @back="panel = ''"
          />
          <PracticePanel v-if="panel === 'practice'" :breakdown="props.breakdown" @back="panel = ''" />
          <p v-if="warm && panel !== 'temp'" :class="warm.caution ? 'fault' : 'small'" data-test="temp">
            {{ warm.of }}: {{ temperature(warm.c) }}. {{ warm.caution }}
          </p>
          <BoardList
            v-if="
              !inside &&
              !['rows', 'tubs', 'check', 'temp', 'discard', 'finish', 'other', 'hand', 'practice'].includes(panel)
            "
            :board="board"
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
