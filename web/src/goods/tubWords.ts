// How tubs and what becomes of them are said.
import type { S } from '../api/client'
import { plainDay } from '../words/shown'
import { say } from '../words/say'

export const placeNames: Record<string, string> = {
  cold: say('Cold room'),
  counter: say('Counter'),
  frozen: say('Freezer'),
}

export const kindNames: Record<string, string> = {
  used: say('into a batch'),
  sold: say('sold'),
  wasted: say('thrown away'),
  counted: say('counted'),
  moved: say('moved'),
  dated: say('dated'),
  reduced: say('reduced'),
  undone: say('taken back'),
  added: say('went in'),
  came: say('came out'),
  dropped: say('thrown away'),
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
