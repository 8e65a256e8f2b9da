// The boards of pieces that are cut together, and the booking of one weighing on several of them.
import { computed } from 'vue'
import { data, GET, POST, type S } from '../api/client'
import { newId } from './queue'
import { comesOff, lastWaiting, standing, useSync, type BenchEvent } from './useSync'
import { fills, slotFor, slotOf, takesOff } from './slots'
import { say } from '../words/say'

type Batch = S['BatchBoard']
type Verdict = S['Balance']['verdict']

export function useBatch(id: string, who: () => string, onBooked: (e: BenchEvent) => void) {
  const path = { params: { path: { batch_id: id } } }
  const {
    waiting,
    board: batch,
    ...rest
  } = useSync<Batch>(
    {
      key: `batch:${id}`,
      read: () => data(GET('/batches/{batch_id}', path)),
      send: (w) =>
        data(POST('/batches/{batch_id}/events', { ...path, body: { event: w.event, entries: w.entries ?? [] } })),
      whole: (answer) => answer,
      complete: () => true,
      events: (b) => b.events,
      bench: (b) => b.boards[0]?.bench.id ?? '',
      stream: `/api/v1/batches/${id}/stream`,
    },
    who,
    (w) => onBooked(w.event),
  )

  /** What waits to be confirmed: by part, and by piece and part. */
  const pending = computed(() => {
    const taken = new Map<string, number>()
    const times = new Map<string, number>()
    const done = new Map<string, number>()
    let sum = 0
    for (const { event: e, entries } of standing(waiting.value)) {
      for (const n of entries ?? []) done.set(`${n.breakdown_id} ${e.kind}`, 1)
      if (!comesOff(e)) continue
      const part = slotOf(e)
      taken.set(part, (taken.get(part) ?? 0) + (e.net_g ?? 0))
      times.set(part, (times.get(part) ?? 0) + (entries?.length ?? 0))
      sum += takesOff(e)
      for (const n of entries ?? [])
        done.set(say`${n.breakdown_id} of ${part}`, (done.get(`${n.breakdown_id} of ${part}`) ?? 0) + 1)
    }
    return { taken, times, sum, done, count: waiting.value.length }
  })

  const opened = (b: S['Board']) => b.state !== 'waiting' || pending.value.done.has(say`${b.id} opened`)
  const looked = (b: S['Board']) => b.looked || b.state !== 'waiting' || pending.value.done.has(say`${b.id} inspected`)
  /** How often what is expected has come off a piece. */
  const times = (b: S['Board'], e: S['Expected']) =>
    b.rows.filter((r) => fills(r, e) && (e.step || !b.rows.some((x) => x.event_id === r.parent && x.kind !== 'opened')))
      .length + (pending.value.done.get(`${b.id} of ${slotFor(e)}`) ?? 0)

  /** All boards as one: what the lists and the closing show. */
  const sum = computed<S['Board'] | undefined>(() => {
    const v = batch.value
    const first = v?.boards[0]
    if (!v || !first) return undefined
    const add = (f: (b: S['Board']) => number) => v.boards.reduce((s, b) => s + f(b), 0)
    const input = add((b) => b.input_g ?? b.piece.weight_g)
    const output = add((b) => b.balance.output_g)
    const residual = input - output
    const inner = add((b) => b.balance.inner_loss_g ?? 0)
    const pct = (g: number) => (input ? (g / input) * 100 : 0)
    const worst =
      (['gain', 'loss_high', 'balanced'] as Verdict[]).find((x) => v.boards.some((b) => b.balance.verdict === x)) ??
      'balanced'
    return {
      ...first,
      expected: v.expected,
      next: v.next,
      input_g: input,
      minutes: v.minutes,
      undo_what: v.undo_what,
      temps: v.boards.flatMap((b) => b.temps),
      paused: v.boards.some((b) => b.paused),
      running: v.boards.some((b) => b.running),
      found: [...new Set(v.boards.flatMap((b) => b.found))],
      state: v.boards.every((b) => b.state === 'closed')
        ? 'closed'
        : v.boards.some((b) => b.state !== 'waiting')
          ? 'open'
          : 'waiting',
      balance: {
        ...first.balance,
        input_g: input,
        output_g: output,
        residual_g: residual,
        residual_pct: pct(residual),
        inner_loss_g: inner,
        loss_g: residual + inner,
        loss_pct: pct(residual + inner),
        verdict: worst,
      },
    }
  })
  /** What undo takes back: what waits before what is confirmed. */
  const undoEntries = () =>
    lastWaiting(waiting.value)?.entries?.map((n) => ({ breakdown_id: n.breakdown_id, id: newId(), target: n.id })) ??
    (batch.value?.undo ?? []).map((u) => ({ ...u, id: newId() }))
  return { ...rest, batch, undoEntries, sum, pending, opened, looked, times }
}
