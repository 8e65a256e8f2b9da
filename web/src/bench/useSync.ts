// What is booked at a bench goes through the queue to the server, in order, once, however bad the network is; the board
// follows.
import { onScopeDispose, ref, shallowRef, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import type { S } from '../api/client'
import { onServer } from '../api/clock'
import { asProblem, isFinal, type Problem } from '../api/problem'
import { listen } from '../api/stream'
import { boards, newId, queue } from './queue'
import type { Waiting } from './benchDB'
import { say } from '../words/say'

export type BenchEvent = S['BenchEvent']
export type Content = Omit<BenchEvent, 'id' | 'at' | 'bench_id' | 'by'>

/** Whether an event is a weighing of something that comes off. */
export const comesOff = (e: BenchEvent) =>
  ['seamed_off', 'trimmed', 'portioned', 'discarded', 'parted', 'tubbed', 'ingredient_added'].includes(e.kind)

/** The ids that a waiting event has: its own, or that on each piece of a batch. */
const idsOf = (w: Waiting) => w.entries?.map((n) => n.id) ?? [w.event.id]

/** What waits and is not undone by something that waits too. */
export function standing(waiting: Waiting[]): Waiting[] {
  const undone = new Set(
    waiting
      .filter((w) => w.event.kind === 'undone')
      .flatMap((w) => w.entries?.map((n) => n.target) ?? [w.event.target]),
  )
  return waiting.filter((w) => !idsOf(w).every((id) => undone.has(id)))
}

/** The latest weighing that waits: undo takes it back before anything that is confirmed. */
export const lastWaiting = (waiting: Waiting[]) =>
  standing(waiting)
    .filter((w) => comesOff(w.event) || w.event.kind === 'opened')
    .at(-1)

/** How a board is read, booked on, and heard of. */
export interface Door<B> {
  key: string
  read: () => Promise<B>
  send: (w: Waiting) => Promise<B>
  /** The board with what only a first reading holds. */
  whole: (answer: B, before: B | undefined) => B
  complete: (b: B) => boolean
  events: (b: B) => number
  bench: (b: B) => string
  stream: string
}

export function useSync<B>(door: Door<B>, who: () => string, onBooked: (w: Waiting) => void) {
  const queries = useQueryClient()
  const board = shallowRef<B>()
  const loadFault = shallowRef<Problem>()
  const refused = shallowRef<{ problem: Problem; event: BenchEvent }>()
  const waiting = shallowRef<Waiting[]>([])
  /** Why nothing gets through, in words; empty while it does. */
  const away = ref('')
  let sending = false
  let more = false
  let sent = 0
  let alive = true
  let timer: ReturnType<typeof setTimeout> | undefined

  async function load() {
    try {
      board.value = await door.read()
      loadFault.value = undefined
      away.value = ''
    } catch (e) {
      if (signedOut(e)) return
      if (!isFinal(e)) board.value ??= await boards.of<B>(door.key)
      if (isFinal(e) || !board.value) loadFault.value = asProblem(e)
      if (!isFinal(e)) later(e)
    }
  }

  /** Reads the board while it is looked for what waits; it is read again where something waited. */
  async function start() {
    const read = door.read().then(
      (b) => (board.value ??= b),
      () => undefined,
    )
    await flush()
    if (sent || !(await read)) await load()
  }

  /** Sends what waits, then reads the board. */
  async function sync() {
    await flush()
    await load()
  }

  /** Nobody is signed in any more: what waits is kept until somebody is. */
  function signedOut(e: unknown) {
    if (asProblem(e).status !== 401) return false
    void queries.invalidateQueries({ queryKey: keyOf('me') })
    return true
  }

  /** Says why nothing gets through, and tries again in a second. */
  function later(e: unknown) {
    const p = asProblem(e)
    away.value = p.status === 0 ? say('No connection.') : `${p.title}.`
    clearTimeout(timer)
    if (alive) timer = setTimeout(() => void sync(), 1000)
  }

  /** Sends what waits. One sending runs at a time; what comes in meanwhile is sent after it. */
  async function flush() {
    if (sending) {
      more = true
      return
    }
    sending = true
    try {
      do {
        more = false
        await sendAll()
      } while (more && !away.value)
    } finally {
      sending = false
    }
  }

  /**
   * What is decided waits no longer: at once, so that the next key is not read against an event that was refused or is
   * counted already.
   */
  function settled(w: Waiting) {
    waiting.value = waiting.value.filter((x) => x.seq !== w.seq)
  }

  /**
   * Sends in order. What the server refuses is taken out and shown; what does not get through stays, and is tried
   * again.
   */
  async function sendAll() {
    for (;;) {
      waiting.value = await queue.of(door.key)
      const first = waiting.value[0]
      if (!first) return
      try {
        const answer = await door.send(first)
        board.value = door.whole(answer, board.value)
        settled(first)
        sent++
        away.value = ''
        await queue.remove(first.seq)
        onBooked(first)
      } catch (e) {
        if (!isFinal(e) || signedOut(e)) {
          later(e)
          return
        }
        if (asProblem(e).at('by') && first.event.by) {
          // booked by somebody who is not known on this screen: it is then the sender's
          await queue.change({ ...first, event: { ...first.event, by: undefined } })
          continue
        }
        settled(first)
        refused.value = { problem: asProblem(e), event: first.event }
        await queue.remove(first.seq)
      }
    }
  }

  /** Books an event: as of now, or of a moment by this screen's clock. */
  async function book(content: Content, at = new Date(), entries?: S['BatchEntry'][]) {
    const b = board.value
    if (!b) return
    refused.value = undefined
    const event = {
      id: newId(),
      at: onServer(at).toISOString(),
      bench_id: door.bench(b),
      ...(who() && { by: who() }),
      ...content,
    }
    await queue.add({ breakdown: door.key, event, ...(entries && { entries }) })
    await flush()
  }

  watch(board, (b) => b && door.complete(b) && void boards.keep(door.key, b))
  void start()
  // whoever else books on this board is heard of within a second
  const deaf = listen(door.stream, (events) => {
    if (board.value && Number(events) !== door.events(board.value) && waiting.value.length === 0 && !sending)
      void load()
  })
  const online = () => void sync()
  window.addEventListener('online', online)
  onScopeDispose(() => {
    alive = false
    deaf()
    clearTimeout(timer)
    window.removeEventListener('online', online)
  })
  return { board, loadFault, refused, away, waiting, load, book }
}
