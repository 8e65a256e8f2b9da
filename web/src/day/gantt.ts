// The day as a picture: a row for each bench, true to time.
import type { Day, Slot } from './useDay'
import { say } from '../words/say'

/** The width of the picture, and what stands left of the hours. */
export const wide = 1120
export const left = 130
const right = 34
export const rowHigh = 62
export const top = 26
/** How many units a letter of a bar takes. */
const letter = 7

const at = (iso: string) => new Date(iso).getTime()

export interface Scale {
  x: (iso: string) => number
  from: number
  to: number
}

/** The hours that the picture shows: from the first piece to the last, with now and the orders of the day. */
export function scaleOf(day: Day): Scale {
  const ends = Math.max(...day.posts.map((p) => at(p.ends)))
  const begins = Math.min(...day.posts.map((p) => at(p.begins)))
  const slots = day.posts.flatMap((p) => p.slots.flatMap((s) => [at(s.from), at(s.to)]))
  const beside = [at(day.now), ...day.orders.map((o) => at(o.due))].filter((t) => t >= begins && t <= ends)
  const times = slots.length ? [...slots, ...beside] : [begins, ends]
  const hour = 3_600_000
  const from = Math.floor(Math.min(...times) / hour) * hour
  const to = Math.max(from + hour, Math.ceil(Math.max(...times) / hour) * hour)
  return { from, to, x: (iso) => left + ((at(iso) - from) / (to - from)) * (wide - left - right) }
}

/** A mark at each full hour. */
export function hours(scale: Scale): string[] {
  const out: string[] = []
  for (let t = scale.from; t <= scale.to; t += 3_600_000) out.push(new Date(t).toISOString())
  return out
}

/** What fits on a bar of a width: a name, cut to it, or nothing. */
export function fitting(text: string, width: number): string {
  const n = Math.floor((width - 10) / letter)
  if (n < 6) return ''
  return text.length <= n ? text : `${text.slice(0, n - 1)}…`
}

/** What a slot is, for who cannot see the picture. */
export const slotName = (s: Slot, clock: (iso: string) => string) =>
  say`${clock(s.from)} to ${clock(s.to)}, ${s.piece.name} ${s.piece.lot_number} / ${s.piece.number}, ` +
  `${s.piece.plan_name ?? ''}${s.orders.length ? say`, for ${s.orders.join(', ')}` : ''}, ${statusNames[s.status]}`

export const statusNames: Record<Slot['status'], string> = {
  waits: say('waits'),
  behind: say('late'),
  cutting: say('being cut'),
  done: say('done'),
  gone: say('off the rail'),
}
