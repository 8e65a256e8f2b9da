// A count of a room on its way: what was found of each tub, kept in this browser until it is booked, and what explains
// what is missing.
import type { S } from '../api/client'
import { gramsPerPound } from '../shell/shop'
import { say } from '../words/say'

export interface CountDraft {
  /** Tub → what was found, as typed. */
  found: Record<string, string>
  /** Tub → what explains the difference. */
  why: Record<string, Why>
}
export type Why = 'sold' | 'wasted' | 'batch' | 'drip' | 'wrong' | 'unknown'

export const whyNames: Record<Why, string> = {
  unknown: say('not known'),
  sold: say('sold, and not booked'),
  wasted: say('thrown away, and not booked'),
  batch: say('used in a batch, and not booked'),
  drip: say('drip and drying'),
  wrong: say('weighed wrongly before'),
}

/** What a count found of a tub, held against the log. */
export interface Found {
  tub: S['Tub']
  foundG: number
  /** More than the log says, or below zero less. */
  offG: number
  /** Of the difference, at the tub's price. */
  money: number
}

const key = (shop: string, place: string) => `falda.count.${shop}.${place}`

export const readCount = (shop: string, place: string): CountDraft => ({
  found: {},
  why: {},
  ...(JSON.parse(localStorage.getItem(key(shop, place)) ?? '{}') as Partial<CountDraft>),
})
export const keepCount = (shop: string, place: string, d: CountDraft) =>
  localStorage.setItem(key(shop, place), JSON.stringify(d))
export const dropCount = (shop: string, place: string) => localStorage.removeItem(key(shop, place))

/** The tubs of which something was typed, held against the log; what a scale cannot show is no difference. */
export function compared(
  tubs: S['Tub'][],
  found: Record<string, string>,
  gramsOf: (text: string) => number,
  division: number,
) {
  const out: Found[] = []
  for (const tub of tubs) {
    const text = found[tub.id]?.trim()
    const foundG = text ? gramsOf(text) : NaN
    if (!text || !(foundG >= 0)) continue
    const raw = foundG - tub.left_g
    const offG = Math.abs(raw) < division ? 0 : raw
    const perG = tub.price ? Number(tub.price) / (tub.price_per === 'lb' ? gramsPerPound : 1000) : 0
    out.push({ tub, foundG, offG, money: offG * perG })
  }
  return out
}

/** How a tub that was counted is booked: what is missing and explained as what it was, the rest as counted. */
export function bookingOf(f: Found, why: Why): Omit<S['GoodsBooking'], 'id' | 'at'> {
  const g = (n: number) => String(Math.round(n * 1000) / 1000)
  const common = { tub: f.tub.id, unit: 'g', source: 'typed', note: say`count: ${whyNames[why]}` }
  if (f.offG < 0 && (why === 'sold' || why === 'wasted')) return { ...common, kind: why, weight: g(-f.offG) }
  return { ...common, kind: 'counted', weight: g(f.foundG), note: f.offG ? common.note : say('count: it agrees') }
}
