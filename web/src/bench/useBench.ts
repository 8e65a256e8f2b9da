// The board of one breakdown, and the booking of events on it through the queue.
import { computed, onScopeDispose, ref, shallowRef, watch } from 'vue'
import { data, GET, POST, type S } from '../api/client'
import { asProblem, isFinal, type Problem } from '../api/problem'
import { boards, newId, queue, type Waiting } from './queue'
import { useQueryClient } from '@tanstack/vue-query'

type Event = S['BenchEvent']
type Content = Omit<Event, 'id' | 'at' | 'bench_id' | 'by'>

export function useBench(breakdown: string, who: () => string, onBooked: (e: Event) => void) {
  const queries = useQueryClient()
  const board = shallowRef<S['Board']>()
  const loadFault = shallowRef<Problem>()
  const refused = shallowRef<{ problem: Problem; event: Event }>()
  const waiting = shallowRef<Waiting[]>([])
  /** Why nothing gets through, in words; empty while it does. */
  const away = ref('')
  let sending = false
  let more = false
  let alive = true
  let timer: ReturnType<typeof setTimeout> | undefined
  const path = { params: { path: { breakdown_id: breakdown } } }

  async function load() {
    try {
      board.value = await data(GET('/breakdowns/{breakdown_id}', path))
      loadFault.value = undefined
      away.value = ''
    } catch (e) {
      if (signedOut(e)) return
      if (!isFinal(e)) board.value ??= await boards.of(breakdown)
      if (isFinal(e) || !board.value) loadFault.value = asProblem(e)
      if (!isFinal(e)) later(e)
    }
  }

  /** Sends what waits, then reads the board. */
  async function sync() {
    await flush()
    await load()
  }

  /** Nobody is signed in any more: what waits is kept until somebody is. */
  function signedOut(e: unknown) {
    if (asProblem(e).status !== 401) return false
    void queries.invalidateQueries({ queryKey: ['me'] })
    return true
  }

  /** Says why nothing gets through, and tries again in a second. */
  function later(e: unknown) {
    const p = asProblem(e)
    away.value = p.status === 0 ? 'No connection.' : `${p.title}.`
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

  /** What is decided waits no longer: at once, so that the next key is not read against an event that was refused or is counted already. */
  function settled(w: Waiting) {
    waiting.value = waiting.value.filter((x) => x.seq !== w.seq)
  }

  /** Sends in order. What the server refuses is taken out and shown; what does not get through stays, and is tried again. */
  async function sendAll() {
    for (;;) {
      waiting.value = await queue.of(breakdown)
      const first = waiting.value[0]
      if (!first) return
      try {
        const answer = await data(POST('/breakdowns/{breakdown_id}/events', { ...path, body: first.event }))
        board.value = { ...answer, fixed: board.value?.fixed }
        settled(first)
        away.value = ''
        await queue.remove(first.seq)
        onBooked(first.event)
      } catch (e) {
        if (!isFinal(e) || signedOut(e)) {
          later(e)
          return
        }
        if (asProblem(e).at('by') && first.event.by) { // booked by somebody who is not known on this screen: it is then the sender's
          await queue.change({ ...first, event: { ...first.event, by: undefined } })
          continue
        }
        settled(first)
        refused.value = { problem: asProblem(e), event: first.event }
        await queue.remove(first.seq)
      }
    }
  }

  async function book(content: Content, at = new Date()) {
    const b = board.value
    if (!b) return
    refused.value = undefined
    await queue.add(breakdown, { id: newId(), at: at.toISOString(), bench_id: b.bench.id, ...(who() && { by: who() }), ...content })
    await flush()
  }

  /** What is booked but not yet confirmed counts on the board, so that the next muscle comes up at once. */
  const pending = computed(() => {
    const taken = new Map<string, number>()
    const times = new Map<string, number>()
    let sum = 0
    for (const { event: e } of waiting.value) {
      if (!['seamed_off', 'trimmed', 'portioned', 'discarded'].includes(e.kind)) continue
      const key = e.part ?? e.product ?? ''
      taken.set(key, (taken.get(key) ?? 0) + (e.net_g ?? 0))
      times.set(key, (times.get(key) ?? 0) + 1)
      sum += e.net_g ?? 0
    }
    return { taken, times, sum, opened: waiting.value.some((w) => w.event.kind === 'opened'), looked: waiting.value.some((w) => w.event.kind === 'inspected'), count: waiting.value.length }
  })

  watch(board, (b) => b?.fixed && void boards.keep(breakdown, JSON.parse(JSON.stringify(b)) as S['Board']))
  void sync()
  // whoever else books on this board is heard of within a second
  const watcher = new EventSource(`/api/v1/breakdowns/${breakdown}/stream`)
  watcher.onmessage = (m) => {
    if (board.value && Number(m.data) !== board.value.booked && waiting.value.length === 0 && !sending) void load()
  }
  const online = () => void sync()
  window.addEventListener('online', online)
  onScopeDispose(() => {
    alive = false
    watcher.close()
    clearTimeout(timer)
    window.removeEventListener('online', online)
  })
  return { board, loadFault, refused, away, pending, load, book }
}
