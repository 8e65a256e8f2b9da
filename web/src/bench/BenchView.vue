<script setup lang="ts">
// The bench: the map, the next seam, the live weight, and one key or touch for each weighing.
import { computed, ref, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useRouter } from 'vue-router'
import SeamMap, { type MapMark } from '../components/SeamMap.vue'
import StateNote from '../components/StateNote.vue'
import type { S } from '../api/client'
import { useMe } from '../shell/me'
import { sound } from '../shell/preferences'
import { shortName, useShop } from '../shell/shop'
import BenchKeys from './BenchKeys.vue'
import BoardList from './BoardList.vue'
import ClosedPanel from './ClosedPanel.vue'
import DiscardPanel from './DiscardPanel.vue'
import FinishPanel from './FinishPanel.vue'
import LivePlate from './LivePlate.vue'
import MusclePanel from './MusclePanel.vue'
import RowsPanel from './RowsPanel.vue'
import ScaleStandIn from './ScaleStandIn.vue'
import SeamWords from './SeamWords.vue'
import TempPanel from './TempPanel.vue'
import { tone } from './sound'
import { useBench } from './useBench'
import { useIdle } from './useIdle'
import { muscleOf, useInside } from './useInside'
import { useKeys } from './useKeys'
import { useMinutes } from './useMinutes'
import TubPanel from './TubPanel.vue'
import { useWeighing } from './useWeighing'

const props = defineProps<{ breakdown: string }>()
const router = useRouter()
const queries = useQueryClient()
const { bare, mass, temperature } = useShop()
const { me, may } = useMe()
const mayCut = computed(() => may('POST /breakdowns/{breakdown_id}/events'))

const flash = ref(false)
const bookedHere = ref(false)
const { board, loadFault, refused, away, pending, load, book, undoTarget } = useBench(
  props.breakdown,
  () => me.value?.id ?? '',
  (e) => {
    tone('booked')
    bookedHere.value = true
    flash.value = true
    setTimeout(() => (flash.value = false), 180)
    if (e.kind === 'closed' || e.kind === 'opened') void queries.invalidateQueries()
  },
)

const panel = ref<'' | 'finish' | 'discard' | 'help' | 'rows' | 'tubs' | 'temp'>('')
/** A question that must be answered before the next weighing; the help is none. */
const asking = computed(
  () =>
    panel.value === 'finish' ||
    panel.value === 'discard' ||
    panel.value === 'rows' ||
    panel.value === 'tubs' ||
    panel.value === 'temp',
)
const picked = ref('')

const minutes = useMinutes(board)

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
const insideNote = computed(() => {
  const i = insideTarget.value
  if (!inside.value || !i) return undefined
  const p = board.value?.fixed?.plan.products.find((x) => i.kind === 'product' && x.id === i.id)
  const end =
    i.kind === 'end'
      ? board.value?.fixed?.words[muscleOf(inside.value.part)]?.ends.find((e) => e.id === i.id)
      : undefined
  if (end)
    return {
      name: `${end.name}, of ${inside.value.name.toLowerCase()}`,
      how: `${end.why.charAt(0).toUpperCase()}${end.why.slice(1)}.`,
    }
  const how = [
    p?.thickness_mm && `${p.thickness_mm} mm thick`,
    p?.portion_g && `${p.portion_g} g each`,
    p?.count_high && `${p.count_low === p.count_high ? p.count_high : `${p.count_low}–${p.count_high}`} from a piece`,
  ]
    .filter(Boolean)
    .join(', ')
  return {
    name: `${i.name}, of ${inside.value.name.toLowerCase()}`,
    how: how
      ? `${how.charAt(0).toUpperCase()}${how.slice(1)}.`
      : 'What comes off the muscle when it is dressed; weights of the same kind add up.',
  }
})
const againRow = computed(() => board.value?.rows.find((r) => r.event_id === again.value))
watch(inside, (i) => {
  if (i?.closed) node.value = ''
})

const opened = computed(() => board.value?.state !== 'waiting' || pending.value.opened)
const closed = computed(() => board.value?.state === 'closed')
const isTaken = (e: S['Expected']) => e.times + (pending.value.times.get(e.id) ?? 0) >= e.want
const target = computed(() => {
  const b = board.value
  if (!b || !opened.value || closed.value) return undefined
  const chosen = b.expected.find((e) => e.key === picked.value)
  if (chosen) return chosen
  const off = (id: string) => b.expected.some((e) => e.id === id && isTaken(e))
  return b.expected.find((e) => !isTaken(e) && e.waits_for.every(off)) ?? b.expected.find((e) => !isTaken(e))
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
  take,
  letGo,
  holdIt,
  digit,
  backspace,
} = useWeighing(
  computed(() => board.value?.bench.id),
  () => mayCut.value && !closed.value,
)
const allDone = computed(() => !!board.value && opened.value && !closed.value && !target.value)

const what = computed(() => {
  if (closed.value) return 'Finished'
  if (!looked.value) return 'Read this, look it over'
  if (againRow.value)
    return `${againRow.value.kind === 'opened' ? 'The whole piece' : shortName(againRow.value.name)}, again`
  if (inside.value && insideTarget.value) return shortName(insideTarget.value.name)
  if (!opened.value) return 'The whole piece'
  return target.value ? shortName(target.value.name) : 'Everything is weighed'
})
const hint = computed(() => {
  if (closed.value) return ''
  if (!looked.value) return 'Enter when that is done'
  if (againRow.value) return `was ${mass(againRow.value.weight_g)}`
  if (inside.value && insideTarget.value)
    return insideTarget.value.expected
      ? `of ${inside.value.name.toLowerCase()}, about ${mass(insideTarget.value.expected, 2)}`
      : `of ${inside.value.name.toLowerCase()}`
  if (!opened.value) return `about ${mass(board.value?.piece.weight_g ?? 0, 2)} by its label`
  if (!target.value) return 'Enter finishes'
  const t = target.value
  if (t.want > 1)
    return `${t.times + (pending.value.times.get(t.id) ?? 0) + 1} of ${t.want}, about ${mass(t.expected_g / t.want, 2)}`
  return `about ${bare(t.expected_g, 2)} (${bare(t.low_g, 2)}–${mass(t.high_g, 2)})`
})

async function bookAs(content: Omit<S['BenchEvent'], 'id' | 'at' | 'bench_id' | 'by'>) {
  const w = take()
  if (!w) return tone('refused')
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
async function look() {
  const found = ticked.value.join(' ')
  ticked.value = []
  await book({ kind: 'inspected', ...(found && { note: found }) })
}
function bookExpected(e: S['Expected']) {
  if (e.kind === 'muscle') return bookAs({ kind: 'seamed_off', part: e.id })
  if (e.kind === 'product') return bookAs({ kind: 'portioned', product: e.id })
  if (e.kind === 'waste') return bookAs({ kind: 'discarded', part: e.id, reason: 'as usual' })
  return bookAs({ kind: 'trimmed', part: e.id })
}
function enter() {
  if (asking.value || closed.value || !mayCut.value) return
  if (!looked.value) return void look()
  if (!opened.value) return void bookAs({ kind: 'opened' })
  if (again.value) return void bookAgain()
  if (inside.value && insideTarget.value) return void bookInside(insideTarget.value)
  if (target.value) return void bookExpected(target.value)
  finish()
}
/** Opens the finish panel, once everything that was booked is confirmed. */
const finishing = ref(false)
function finish() {
  const undone = board.value?.rows.find(
    (r) => r.kind === 'seamed_off' && !r.closed && board.value?.rows.some((x) => x.parent === r.event_id),
  )
  if (undone && opened.value && !closed.value) {
    // it would be refused: the muscle that is in the way is shown instead
    openMuscle(undone.event_id)
    quiet.value = `${shortName(undone.name)} was opened and is not done yet. Finish it first.`
    return
  }
  finishing.value = opened.value && !closed.value
}
watch([finishing, () => pending.value.count], () => {
  if (!finishing.value || pending.value.count > 0) return
  finishing.value = false
  panel.value = 'finish'
})
/** Books as the next part of a kind that is not yet weighed, or as its first where all are. */
function quick(kind: 'trim' | 'fat' | 'bone') {
  if (inside.value) {
    const i = inside.value.items.find((x) => x.kind === kind)
    if (i) void bookInside(i)
    return
  }
  const all = board.value?.expected.filter((e) => e.kind === kind) ?? []
  const e = all.find((x) => !isTaken(x)) ?? all[0]
  if (!opened.value || closed.value) return
  if (e) void bookExpected(e)
  else quiet.value = `This way of cutting has no ${kind} to weigh apart.`
}
function nextSeam() {
  if (inside.value) {
    const at = inside.value.items.findIndex((i) => i.key === insideTarget.value?.key)
    insidePick.value = inside.value.items[(at + 1) % inside.value.items.length]?.key ?? ''
    return
  }
  const open = board.value?.expected.filter((e) => !isTaken(e)) ?? []
  const at = open.findIndex((e) => e.key === target.value?.key)
  picked.value = open[(at + 1) % open.length]?.key ?? ''
}
const undo = () => {
  const target = undoTarget()
  if (target && !closed.value) void book({ kind: 'undone', target })
}
const pause = () => opened.value && !closed.value && void book({ kind: board.value?.paused ? 'resumed' : 'paused' })
const discard = () => {
  if (opened.value && !closed.value) panel.value = 'discard'
}
const degrees = () => {
  if (opened.value && !closed.value) panel.value = panel.value === 'temp' ? '' : 'temp'
}
const warm = computed(() => board.value?.temps.at(-1))
function takeTemp(t: { temp_c: number; source: 'probe' | 'typed' }) {
  panel.value = ''
  void book({ kind: 'measured', ...t, ...(inside.value && { node: node.value }) })
}
const pickPart = (id: string) => {
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
const rows = () => {
  if (opened.value && !closed.value) panel.value = panel.value === 'rows' ? '' : 'rows'
}
const move = (target: string, to: { part?: string; product?: string }) => {
  panel.value = ''
  void book({ kind: 'moved', target, ...to })
}
const undoOne = (target: string) => {
  panel.value = ''
  void book({ kind: 'undone', target })
}
const doneInside = (why: string) => void book({ kind: 'closed', node: node.value, ...(why && { reason: why }) })
const reopen = (why: string) => void book({ kind: 'reopened', reason: why })
useIdle(
  () => bookedHere.value && opened.value && !closed.value && !board.value?.paused && mayCut.value,
  computed(() => board.value?.booked ?? 0),
  (at) => void book({ kind: 'paused', note: 'nobody touched it' }, at),
)

useKeys(
  {
    Enter: enter,
    Backspace: backspace,
    Escape: escape,
    n: nextSeam,
    t: () => quick('trim'),
    f: () => quick('fat'),
    b: () => quick('bone'),
    x: discard,
    o: () => openMuscle(),
    l: rows,
    d: degrees,
    h: holdIt,
    u: () => undo(),
    p: () => pause(),
    m: () => (sound.value = sound.value === 'on' ? 'off' : 'on'),
    '?': () => (panel.value = panel.value === 'help' ? '' : 'help'),
  },
  (d) => {
    if (!closed.value && !asking.value) digit(d)
  },
)

const touched: Record<string, () => unknown> = {
  n: nextSeam,
  t: () => quick('trim'),
  f: () => quick('fat'),
  b: () => quick('bone'),
  x: discard,
  o: () => openMuscle(),
  l: rows,
  d: degrees,
  h: holdIt,
  u: undo,
  p: pause,
  '?': () => (panel.value = panel.value === 'help' ? '' : 'help'),
  e: finish,
}
const act = (key: string) => touched[key]?.()

const marks = computed<Record<string, MapMark>>(() => {
  const out: Record<string, MapMark> = {}
  for (const [id, w] of Object.entries(board.value?.fixed?.words ?? {})) out[id] = { name: w.name, code: w.code }
  for (const e of board.value?.expected ?? []) {
    const mark = out[e.id]
    if (!mark || e.kind !== 'muscle') continue
    const taken = isTaken(e)
    if (taken) mark.line = bare(e.taken_g + (pending.value.taken.get(e.id) ?? 0), 2)
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
const fault = computed(() => refused.value?.problem.message ?? '')
watch(refused, (r) => r && tone('refused'))
watch(closed, (c, was) => {
  if (c && was === false) panel.value = ''
})
const goJudge = () => router.push({ name: 'judge', params: { breakdown: props.breakdown } })
</script>

<template>
  <section class="bench" :data-waiting="pending.count">
    <StateNote v-if="!board" :error="loadFault" :loading="!loadFault" what="the board" class="page" @retry="load()" />
    <template v-else>
      <header class="head">
        <h1>{{ board.piece.name }}</h1>
        <span class="small"
          >{{ board.piece.lot_number }} · day {{ board.piece.age_days
          }}<span class="plan"> · {{ board.fixed?.plan.name }}</span></span
        >
        <span class="facts"
          ><span>{{ board.bench.name }}</span>
          <RouterLink v-if="board.batch_id" :to="{ name: 'batch', params: { batch: board.batch_id } }"
            >with the others</RouterLink
          >
          <span class="small">{{ mayCut ? `${me?.name} cuts` : 'to look at only' }}</span>
          <span data-test="minutes"
            >{{ minutes.toFixed(0) }} min<template v-if="board.paused">, paused</template></span
          ></span
        >
      </header>
      <p v-if="away" class="away" role="status">
        {{ away }}
        <template v-if="pending.count"
          >{{ pending.count }} weighing{{ pending.count > 1 ? 's' : '' }} wait{{ pending.count > 1 ? '' : 's' }} here,
          safe; go on cutting.</template
        ><template v-else>Nothing is lost; go on cutting.</template>
      </p>
      <div class="lay">
        <div class="left">
          <SeamMap
            v-if="board.fixed"
            class="map"
            :map="board.fixed.seam_map"
            :marks="marks"
            :pickable="opened && !closed && seams"
            :picked="inside ? muscleOf(inside.part) : target?.kind === 'muscle' ? target.id : undefined"
            :title="`Seam map of ${board.piece.name}`"
            @pick="pickPart"
          />
          <SeamWords
            v-model:ticked="ticked"
            :board="board"
            :target="target"
            :opened="opened"
            :looked="looked"
            :inside="insideNote"
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
            :problem="fault"
            @judge="goJudge"
            @rail="router.push({ name: 'rail' })"
            @reopen="reopen"
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
            :can-book="canBook || allDone || (!looked && mayCut)"
            :flash="flash"
            :quiet="quiet"
            @book="enter"
          />
          <MusclePanel
            v-if="inside && !closed && panel === ''"
            :inside="inside"
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
            @back="panel = ''"
          />
          <TempPanel
            v-if="panel === 'temp'"
            :bench="board.bench.id"
            :of="inside ? shortName(inside.name).toLowerCase() : 'the piece'"
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
          <p v-if="fault && panel !== 'finish'" class="fault" role="alert" data-test="refused">
            {{ fault }}<template v-if="refused?.event.net_g"> Not booked: {{ mass(refused.event.net_g) }}.</template>
          </p>
          <DiscardPanel
            v-if="panel === 'discard'"
            :waste="board.expected.filter((e) => e.kind === 'waste')"
            @back="panel = ''"
            @pick="(d) => bookAs({ kind: 'discarded', ...d })"
          />
          <p v-if="warm && panel !== 'temp'" :class="warm.caution ? 'fault' : 'small'" data-test="temp">
            {{ warm.of }}: {{ temperature(warm.c) }}. {{ warm.caution }}
          </p>
          <BoardList
            v-if="!inside && panel !== 'rows' && panel !== 'tubs' && panel !== 'temp'"
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
        <div class="keysbar">
          <BenchKeys
            :help="panel === 'help'"
            :undo-what="board.undo_what ?? (pending.sum ? 'what was weighed last' : undefined)"
            :paused="board.paused"
            :opened="opened"
            @act="act"
          />
          <button type="button" class="small-key" :class="{ on: tub }" @click="panel = panel === 'tubs' ? '' : 'tubs'">
            {{ tub ? tub.name : 'Tub' }}
          </button>
          <button type="button" class="small-key" @click="command({ command: 'zero' })">Zero</button>
          <button type="button" class="small-key" @click="command({ command: reading.tare_g ? 'clear_tare' : 'tare' })">
            {{ reading.tare_g ? 'Clear tare' : 'Tare' }}
          </button>
        </div>
        <span class="scale">
          <ScaleStandIn
            v-if="reading.simulated"
            :suggest-g="opened ? target?.expected_g : board.piece.weight_g"
            @command="command"
          />
          <span v-if="scaleMessage" class="fault">{{ scaleMessage }}</span>
        </span>
      </footer>
    </template>
  </section>
</template>

<style scoped src="./bench.css"></style>
