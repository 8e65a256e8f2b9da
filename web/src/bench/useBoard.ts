// What a board of one piece and one of several together have in common: what comes next, panels, keys, what was booked.
import { computed, ref, watch, type Ref } from 'vue'
import type { S } from '../api/client'
import type { Problem } from '../api/problem'
import { sound } from '../shell/preferences'
import { useShop } from '../shell/shop'
import type { BenchKey } from './keys'
import { tone } from './sound'
import type { BenchEvent } from './useSync'
import { say } from '../words/say'

export type Panel =
  '' | 'finish' | 'discard' | 'help' | 'rows' | 'tubs' | 'check' | 'temp' | 'other' | 'hand' | 'practice'
type Expected = S['Expected']

export interface OfBoard {
  /** The board, or the boards as one. */
  board: Ref<S['Board'] | undefined>
  /** The whole piece is weighed. */
  opened: Ref<boolean>
  isTaken: (e: Expected) => boolean
  /** How much waits to be confirmed. */
  waiting: Ref<{ count: number; sum: number }>
  refused: Ref<{ problem: Problem; event: BenchEvent } | undefined>
  bookExpected: (e: Expected) => void
}

/** The tubs that the keys for trim, fat and bone book into, in a plan in steps. */
const tubs = { trim: ['mince_trim', 'sausage_trim'], fat: ['fat'], bone: ['stock'] }

/** How long what was booked stands below the plate. */
const standsFor = 8_000

export function useBoard(o: OfBoard) {
  const { mass } = useShop()
  const closed = computed(() => o.board.value?.state === 'closed')
  const panel = ref<Panel>('')
  /** A question that must be answered before the next weighing; the help is none. */
  const asking = computed(() => panel.value !== '' && panel.value !== 'help')
  const picked = ref('')
  const said = ref('')

  const flash = ref(false)
  const bookedHere = ref(false)
  const lastBooked = ref('')
  let stands: ReturnType<typeof setTimeout> | undefined
  /** Shows that something was booked; what, where it was a weight. */
  function shows(e: BenchEvent, name: string) {
    tone('booked')
    bookedHere.value = true
    flash.value = true
    setTimeout(() => (flash.value = false), 180)
    lastBooked.value = e.net_g ? say`${mass(e.net_g)} booked: ${name}` : ''
    clearTimeout(stands)
    stands = setTimeout(() => (lastBooked.value = ''), standsFor)
  }
  const forgets = () => (lastBooked.value = '')

  const list = computed(() => o.board.value?.expected ?? [])
  const target = computed(() => {
    if (!o.board.value || !o.opened.value || closed.value) return undefined
    /** What a step leaves that is weighed is off; of one that leaves nothing to weigh, nothing is known here. */
    const off = (id: string) => {
      const of = list.value.filter((e) => (e.step ?? e.id) === id)
      return of.every(o.isTaken) && (of.length > 0 || list.value.some((e) => e.step))
    }
    return (
      list.value.find((e) => e.key === picked.value) ??
      list.value.find((e) => !o.isTaken(e) && e.waits_for.every(off)) ??
      list.value.find((e) => !o.isTaken(e))
    )
  })
  const allDone = computed(() => !!o.board.value && o.opened.value && !closed.value && !target.value)
  /** What is not weighed off yet, with what waits to be confirmed; nothing before the piece is weighed. */
  const left = computed(() =>
    o.board.value && o.opened.value && o.board.value.input_g
      ? o.board.value.balance.residual_g - o.waiting.value.sum
      : undefined,
  )

  function nextSeam() {
    const open = list.value.filter((e) => !o.isTaken(e))
    const at = open.findIndex((e) => e.key === target.value?.key)
    picked.value = open[(at + 1) % open.length]?.key ?? ''
  }
  /** Books as the next part of a kind that is not yet weighed, or as its first where all are. */
  function quick(kind: 'trim' | 'fat' | 'bone') {
    if (!o.opened.value || closed.value) return
    const all = list.value.filter((e) => e.kind === kind || (e.kind === 'tub' && tubs[kind].includes(e.id)))
    const e = all.find((x) => !o.isTaken(x)) ?? all[0]
    if (e) o.bookExpected(e)
    else said.value = say`This way of cutting has no ${kind} to weigh apart.`
  }
  /** Opens the finish panel, once everything that was booked is confirmed. */
  const finishing = ref(false)
  const finish = () => {
    finishing.value = o.opened.value && !closed.value
  }
  watch([finishing, () => o.waiting.value.count], () => {
    if (!finishing.value || o.waiting.value.count > 0) return
    finishing.value = false
    panel.value = 'finish'
  })
  /** Opens a panel, or closes it; what is asked of a piece waits until it is weighed. */
  const toggle = (p: Panel, always = false) => {
    if (always || (o.opened.value && !closed.value)) panel.value = panel.value === p ? '' : p
  }
  watch(closed, (c, was) => {
    if (c && was === false) panel.value = ''
  })
  const fault = computed(() => o.refused.value?.problem.message ?? '')
  watch(o.refused, (r) => r && tone('refused'))

  /** The keys that both have; a board adds its own. */
  function keysOf(own: {
    next: () => void
    quick: (kind: 'trim' | 'fat' | 'bone') => void
    hold: () => void
    held: boolean
    undo: () => void
    undoWhat?: string
    pause: () => void
    paused: boolean
    finish: () => void
    more?: BenchKey[]
  }): BenchKey[] {
    const off = !o.opened.value
    const order = ['weigh', 'weight', 'piece', 'back', 'end', 'more']
    const keys: BenchKey[] = [
      {
        key: 'n',
        name: say('Next'),
        group: 'weigh',
        off,
        help: say('another seam, or another thing to weigh'),
        run: own.next,
      },
      {
        key: 't',
        name: say('Trim'),
        group: 'weigh',
        off,
        help: say('book the weight as trim'),
        run: () => own.quick('trim'),
      },
      {
        key: 'f',
        name: say('Fat'),
        group: 'weigh',
        off,
        help: say('book the weight as fat'),
        run: () => own.quick('fat'),
      },
      {
        key: 'b',
        name: say('Bone'),
        group: 'weigh',
        off,
        help: say('book the weight as bone'),
        run: () => own.quick('bone'),
      },
      {
        key: 'x',
        name: say('Discard'),
        group: 'weigh',
        off,
        help: say('to the bin, with the reason'),
        run: () => toggle('discard'),
      },
      {
        key: 'h',
        name: say('Hold'),
        group: 'weight',
        on: own.held,
        help: say('keep the weight that is shown'),
        run: own.hold,
      },
      {
        key: 'd',
        name: say('Temp'),
        group: 'piece',
        off,
        help: say('how warm the meat is'),
        run: () => toggle('temp'),
      },
      {
        key: 'u',
        name: say('Undo'),
        group: 'back',
        off: off || !own.undoWhat,
        help: own.undoWhat ?? say('nothing to undo'),
        run: own.undo,
      },
      {
        key: 'p',
        name: own.paused ? say('Resume') : say('Pause'),
        group: 'back',
        off,
        help: say('stop or start the clock'),
        run: own.pause,
      },
      { key: 'e', name: say('Finish'), group: 'end', off, mute: true, help: say('close the balance'), run: own.finish },
      ...(own.more ?? []),
      {
        key: 'm',
        name: sound.value === 'on' ? say('Sound off') : say('Sound on'),
        group: 'more',
        help: say('the sound of a booked weight'),
        run: () => (sound.value = sound.value === 'on' ? 'off' : 'on'),
      },
      { key: '?', name: say('Help'), group: 'more', help: say('this help'), run: () => toggle('help', true) },
    ]
    return keys.sort((a, b) => order.indexOf(a.group) - order.indexOf(b.group))
  }

  return {
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
  }
}
