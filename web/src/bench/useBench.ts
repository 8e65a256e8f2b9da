// The board of one breakdown, and the booking of events on it.
import { computed } from 'vue'
import { data, GET, POST, type S } from '../api/client'
import { comesOff, lastWaiting, standing, useSync, type BenchEvent } from './useSync'
import { slotOf, takesOff } from './slots'

export function useBench(breakdown: string, who: () => string, onBooked: (e: BenchEvent) => void) {
  const path = { params: { path: { breakdown_id: breakdown } } }
  const { waiting, ...rest } = useSync<S['Board']>(
    {
      key: breakdown,
      read: () => data(GET('/breakdowns/{breakdown_id}', path)),
      send: (w) => data(POST('/breakdowns/{breakdown_id}/events', { ...path, body: w.event })),
      whole: (answer, before) => ({ ...answer, fixed: before?.fixed }),
      complete: (b) => !!b.fixed,
      events: (b) => b.booked,
      bench: (b) => b.bench.id,
      stream: `/api/v1/breakdowns/${breakdown}/stream`,
    },
    who,
    (w) => onBooked(w.event),
  )

  /** What is booked but not yet confirmed counts on the board, so that the next muscle comes up at once. */
  const pending = computed(() => {
    const taken = new Map<string, number>()
    const times = new Map<string, number>()
    let sum = 0
    for (const { event: e } of standing(waiting.value)) {
      if (!comesOff(e) || e.node) continue
      const key = slotOf(e)
      taken.set(key, (taken.get(key) ?? 0) + (e.net_g ?? 0))
      times.set(key, (times.get(key) ?? 0) + 1)
      sum += takesOff(e)
    }
    return {
      taken,
      times,
      sum,
      opened: waiting.value.some((w) => w.event.kind === 'opened'),
      looked: waiting.value.some((w) => w.event.kind === 'inspected'),
      count: waiting.value.length,
      steps: new Set(
        waiting.value.flatMap(({ event: e }) =>
          (e.kind === 'ticked' || e.kind === 'skipped') && e.step ? [e.step] : [],
        ),
      ),
    }
  })
  /** What undo takes back: what waits before what is confirmed. */
  const undoTarget = () => lastWaiting(waiting.value)?.event.id ?? rest.board.value?.undo_target
  return { ...rest, pending, undoTarget }
}
