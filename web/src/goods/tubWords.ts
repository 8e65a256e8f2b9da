// How tubs and what becomes of them are said.
import type { S } from '../api/client'
import { plainDay } from '../words/shown'

export const placeNames: Record<string, string> = { cold: 'Cold room', counter: 'Counter', frozen: 'Freezer' }

export const kindNames: Record<string, string> = {
  used: 'into a batch',
  sold: 'sold',
  wasted: 'thrown away',
  counted: 'counted',
  moved: 'moved',
  dated: 'dated',
  reduced: 'reduced',
  undone: 'taken back',
  added: 'went in',
  came: 'came out',
  dropped: 'thrown away',
}

/** "Mince trim, beef, 26 Nov"; of what was made "Harbour mince, M261128-1". */
export const tubName = (t: Pick<S['Tub'], 'name' | 'made_on' | 'lot_number' | 'species'>) =>
  t.lot_number ? `${t.name}, ${t.lot_number}` : `${t.name}, ${t.species}, ${plainDay(t.made_on)}`

/** An amount of an ingredient as it is weighed: what is less than a kilogram in grams. */
export function amountText(amount: number, unit: string): string {
  if (unit !== 'kg' || amount >= 1) return `${Math.round(amount * 1000) / 1000} ${unit}`
  const g = amount * 1000
  return `${g < 100 ? Math.round(g * 10) / 10 : Math.round(g)} g`
}
