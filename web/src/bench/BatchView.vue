<script setup lang="ts">
// Pieces of one kind, cut together: each muscle of all of them is weighed at once and shared by their weights, or one
// piece after another.
import { computed, ref, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import SeamMap, { type MapMark } from '../components/SeamMap.vue'
import StateNote from '../components/StateNote.vue'
import UnitToggle from '../components/UnitToggle.vue'
import type { S } from '../api/client'
import { useMe } from '../shell/me'
import { sound } from '../shell/preferences'
import { percent, shortName, useShop } from '../shell/shop'
import BenchKeys from './BenchKeys.vue'
import BoardList from './BoardList.vue'
import DiscardPanel from './DiscardPanel.vue'
import FinishPanel from './FinishPanel.vue'
import LivePlate from './LivePlate.vue'
import PieceStrip from './PieceStrip.vue'
import ScaleStandIn from './ScaleStandIn.vue'
import SeamWords from './SeamWords.vue'
import TempPanel from './TempPanel.vue'
import TubPanel from './TubPanel.vue'
import { newId } from './queue'
import { tone } from './sound'
import { useBatch } from './useBatch'
import { useIdle } from './useIdle'
import { useKeys } from './useKeys'
import { useMinutes } from './useMinutes'
import type { Content } from './useSync'
import { useWeighing } from './useWeighing'

const props = defineProps<{ batch: string }>()
const queries = useQueryClient()
const { bare, mass, temperature } = useShop()
const { me, may } = useMe()
const mayCut = computed(() => may('POST /batches/{batch_id}/events'))
const flash = ref(false)
const bookedHere = ref(false)
const { batch, sum, loadFault, refused, away, pending, load, book, opened, looked, times, undoEntries } = useBatch(
  props.batch,
  () => me.value?.id ?? '',
  () => {
    tone('booked')
    bookedHere.value = true
    flash.value = true
    setTimeout(() => (flash.value = false), 180)
    void queries.invalidateQueries({ queryKey: ['pieces'] })
  },
)
const boards = computed(() => batch.value?.boards ?? [])
const closed = computed(() => sum.value?.state === 'closed')
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
  computed(() => sum.value?.bench.id),
  () => mayCut.value && !closed.value,
)

const ways = ['all together', 'one by one']
const way = ref(ways[1]!)
const panel = ref<'' | 'finish' | 'discard' | 'help' | 'tubs' | 'temp'>('')
const asking = computed(() => panel.value !== '' && panel.value !== 'help')
const picked = ref('')
const pickedPiece = ref('')
const ticked = ref<string[]>([])

const minutes = useMinutes(sum)

const allLooked = computed(() => boards.value.every(looked))
const unopened = computed(() => boards.value.filter((b) => !opened(b)))
const allOpened = computed(() => boards.value.length > 0 && unopened.value.length === 0)
const each = (e: S['Expected']) => e.want / Math.max(1, boards.value.length)
const lacks = (b: S['Board'], e: S['Expected']) => times(b, e.id) < each(e)
const isTaken = (e: S['Expected']) => !boards.value.some((b) => lacks(b, e))
const target = computed(() => {
  const list = sum.value?.expected ?? []
  if (!allOpened.value || closed.value) return undefined
  const off = (id: string) => list.some((e) => e.id === id && isTaken(e))
  return (
    list.find((e) => e.key === picked.value) ??
    list.find((e) => !isTaken(e) && e.waits_for.every(off)) ??
    list.find((e) => !isTaken(e))
  )
})
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
    ? `all ${boards.value.length}`
    : turn.value.length === 1
      ? `piece ${turn.value[0]!.piece.number}`
      : `pieces ${turn.value.map((b) => b.piece.number).join(', ')}`,
)
const allDone = computed(() => allOpened.value && !closed.value && !target.value)
const what = computed(() => {
  if (!allLooked.value) return 'Read this, look them over'
  if (!allOpened.value) return `The whole ${turn.value.length === 1 ? 'piece' : 'pieces'}: ${whose.value}`
  return target.value ? `${shortName(target.value.name)}: ${whose.value}` : 'Everything is weighed'
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
    ? 'Enter when that is done'
    : !allOpened.value
      ? `about ${mass(expectedNow.value, 2)} by the label`
      : target.value
        ? `about ${mass(expectedNow.value, 2)}`
        : 'Enter finishes',
)

const entries = (list: S['Board'][]) => list.map((b) => ({ breakdown_id: b.id, id: newId() }))
async function bookAs(content: Content) {
  const on = turn.value
  const w = take()
  if (!w || on.length === 0) return tone('refused')
  picked.value = ''
  pickedPiece.value = ''
  panel.value = ''
  await book({ ...content, ...w }, new Date(), entries(on))
}
function bookExpected(e: S['Expected']) {
  if (e.kind === 'muscle') return bookAs({ kind: 'seamed_off', part: e.id })
  if (e.kind === 'product') return bookAs({ kind: 'portioned', product: e.id })
  if (e.kind === 'waste') return bookAs({ kind: 'discarded', part: e.id, reason: 'as usual' })
  return bookAs({ kind: 'trimmed', part: e.id })
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
const finishing = ref(false)
const finish = () => {
  finishing.value = allOpened.value && !closed.value
}
watch([finishing, () => pending.value.count], () => {
  if (!finishing.value || pending.value.count > 0) return
  finishing.value = false
  panel.value = 'finish'
})
function enter() {
  if (asking.value || closed.value || !mayCut.value) return
  if (!allLooked.value) return void look()
  if (!allOpened.value) return void bookAs({ kind: 'opened' })
  if (target.value) return void bookExpected(target.value)
  finish()
}
function quick(kind: 'trim' | 'fat' | 'bone') {
  const all = sum.value?.expected.filter((e) => e.kind === kind) ?? []
  const e = all.find((x) => !isTaken(x)) ?? all[0]
  if (!allOpened.value || closed.value) return
  if (!e) quiet.value = `This way of cutting has no ${kind} to weigh apart.`
  else {
    picked.value = e.key
    void bookExpected(e)
  }
}
function nextSeam() {
  const open = sum.value?.expected.filter((e) => !isTaken(e)) ?? []
  const at = open.findIndex((e) => e.key === target.value?.key)
  picked.value = open[(at + 1) % open.length]?.key ?? ''
}
const undo = () => {
  const list = undoEntries()
  if (list.length && !closed.value) void book({ kind: 'undone' }, new Date(), list)
}
const clocked = (paused: boolean) => boards.value.filter((b) => b.state === 'open' && b.paused === paused)
function pause(at?: Date) {
  const stop = clocked(false)
  const list = stop.length ? stop : clocked(true)
  if (list.length)
    void book(
      { kind: stop.length ? 'paused' : 'resumed', ...(at && { note: 'nobody touched it' }) },
      at ?? new Date(),
      entries(list),
    )
}
const discard = () => {
  if (allOpened.value && !closed.value) panel.value = 'discard'
}
const degrees = () => {
  if (allOpened.value && !closed.value) panel.value = panel.value === 'temp' ? '' : 'temp'
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
const help = () => (panel.value = panel.value === 'help' ? '' : 'help')
useIdle(
  () => bookedHere.value && clocked(false).length > 0 && !closed.value && mayCut.value,
  computed(() => batch.value?.events ?? 0),
  (at) => pause(at),
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
    d: degrees,
    h: holdIt,
    u: undo,
    p: () => pause(),
    a: switchWay,
    m: () => (sound.value = sound.value === 'on' ? 'off' : 'on'),
    '?': help,
  },
  (d) => {
    if (!closed.value && !asking.value) digit(d)
  },
)
const touched: Record<string, () => unknown> = {
  n: nextSeam,
  t: () => quick('trim'),
  f: () => quick('fat'),
  x: discard,
  d: degrees,
  u: undo,
  p: () => pause(),
  e: finish,
  '?': help,
}

const marks = computed<Record<string, MapMark>>(() => {
  const out: Record<string, MapMark> = {}
  for (const [id, w] of Object.entries(sum.value?.fixed?.words ?? {})) out[id] = { name: w.name, code: w.code }
  for (const e of sum.value?.expected ?? []) {
    const mark = out[e.id]
    if (!mark || e.kind !== 'muscle') continue
    const got = boards.value.filter((b) => !lacks(b, e)).length
    if (got)
      mark.line =
        got === boards.value.length
          ? bare(e.taken_g + (pending.value.taken.get(e.id) ?? 0), 2)
          : `${got} of ${boards.value.length}`
    mark.state = isTaken(e) ? 'off' : target.value?.key === e.key ? 'next' : e.reachable ? 'plain' : 'waits'
  }
  return out
})
const fault = computed(() => refused.value?.problem.message ?? '')
watch(refused, (r) => r && tone('refused'))
watch(closed, (c, was) => {
  if (c && was === false) panel.value = ''
})
const verdict = (b: S['Board']) => {
  const limit = b.balance.verdict === 'balanced' ? 'within the limit' : 'more than the limit'
  const loss = `${mass(b.balance.loss_g ?? 0)} of loss, ${percent(b.balance.loss_pct ?? 0)}, ${limit}`
  return `${loss}; ${b.minutes.toFixed(1)} minutes`
}
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
      <header class="head">
        <h1>{{ boards.length }} × {{ sum.piece.name }}, together</h1>
        <span class="small"
          >{{ [...new Set(boards.map((b) => b.piece.lot_number))].join(', ') }} · {{ sum.fixed?.plan.name }}</span
        >
        <span class="facts"
          ><span>{{ sum.bench.name }}</span
          ><span class="small">{{ mayCut ? `${me?.name} cuts` : 'to look at only' }}</span
          ><span data-test="minutes"
            >{{ minutes.toFixed(0) }} min<template v-if="sum.paused">, paused</template></span
          ></span
        >
      </header>
      <p v-if="away" class="away" role="status">
        {{ away }}
        {{
          pending.count
            ? `${pending.count} weighing${pending.count > 1 ? 's wait' : ' waits'} here, safe; go on cutting.`
            : 'Nothing is lost; go on cutting.'
        }}
      </p>
      <div class="lay">
        <div class="left">
          <SeamMap
            v-if="sum.fixed"
            class="map"
            :map="sum.fixed.seam_map"
            :marks="marks"
            :picked="target?.kind === 'muscle' ? target.id : undefined"
            :title="`Seam map of ${sum.piece.name}`"
          />
          <SeamWords v-model:ticked="ticked" :board="sum" :target="target" :opened="allOpened" :looked="allLooked" />
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
            :quiet="quiet"
            @book="enter"
          />
          <div v-if="!closed" class="spread">
            <UnitToggle v-model="way" :options="ways" label="How they are weighed" /><span class="small">{{
              way === ways[0] ? 'The weight is shared by theirs.' : 'Each has its own weight.'
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
            @back="panel = ''"
          />
          <TempPanel
            v-if="panel === 'temp'"
            :bench="sum.bench.id"
            :of="whose"
            :temps="sum.temps"
            @take="takeTemp"
            @back="panel = ''"
          />
          <p v-if="fault && panel !== 'finish'" class="fault" role="alert" data-test="refused">
            {{ fault }}<template v-if="refused?.event.net_g"> Not booked: {{ mass(refused.event.net_g) }}.</template>
          </p>
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
            v-if="panel !== 'tubs' && panel !== 'temp'"
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
        <div class="keysbar">
          <BenchKeys
            :help="panel === 'help'"
            :undo-what="sum.undo_what"
            :paused="sum.paused"
            :opened="allOpened"
            together
            @act="(k) => touched[k]?.()"
          />
          <button type="button" class="small-key" :class="{ on: tub }" @click="panel = panel === 'tubs' ? '' : 'tubs'">
            {{ tub ? tub.name : 'Tub' }}
          </button>
          <button type="button" class="small-key" @click="command({ command: 'zero' })">Zero</button>
          <button type="button" class="small-key" @click="command({ command: reading.tare_g ? 'clear_tare' : 'tare' })">
            {{ reading.tare_g ? 'Clear tare' : 'Tare' }}
          </button>
        </div>
        <span class="scale"
          ><ScaleStandIn v-if="reading.simulated" :suggest-g="expectedNow" @command="command" /><span
            v-if="scaleMessage"
            class="fault"
            >{{ scaleMessage }}</span
          ></span
        >
      </footer>
    </template>
  </section>
</template>

<style scoped src="./bench.css"></style>
