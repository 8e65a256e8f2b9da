// What a weighing stands for among what is expected, and what is booked for it.
import type { S } from '../api/client'
import type { BenchEvent, Content } from './useSync'

type Expected = S['Expected']

/** The place of an event: its step and what leaves, in a plan in steps; else the part or product alone. */
export const slotOf = (e: BenchEvent) =>
  e.step ? `${e.step}:${e.block ?? e.product ?? e.part ?? ''}` : (e.part ?? e.product ?? '')

/** The place of what is expected, as {@link slotOf} names it. */
export const slotFor = (e: Expected) => (e.step ? `${e.step}:${e.block ?? e.id}` : e.id)

/** Whether a row on the board is at a place. */
export const fills = (r: S['BoardRow'], e: Expected) =>
  e.step ? r.step === e.step && r.id === (e.block ?? e.id) : r.id === e.id

/** What is booked for something that is expected, beside the weight. */
export function contentFor(e: Expected): Content {
  const step = e.step ? { step: e.step } : {}
  if (e.block) return { kind: 'parted', block: e.block, ...step }
  if (e.kind === 'ingredient') return { kind: 'ingredient_added', part: e.id, ...step }
  if (e.kind === 'tub') return { kind: 'tubbed', part: e.id }
  if (e.kind === 'product') return { kind: 'portioned', product: e.id, ...step }
  if (e.kind === 'muscle') return { kind: 'seamed_off', part: e.id }
  if (e.kind === 'waste') return { kind: 'discarded', part: e.id, reason: 'as usual' }
  return { kind: 'trimmed', part: e.id }
}

/** What an event takes off the board: a block that left is cut further and stays on it, what is added comes to it. */
export const takesOff = (e: BenchEvent) => {
  if (e.kind === 'parted') return 0
  return e.kind === 'ingredient_added' ? -(e.net_g ?? 0) : (e.net_g ?? 0)
}
