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
  undone: 'taken back',
  added: 'went in',
  came: 'came out',
  dropped: 'thrown away',
}

/** "Mince trim, 26 Nov". */
export const tubName = (t: Pick<S['Tub'], 'name' | 'made_on' | 'lot_number'>) =>
  `${t.name}, ${t.lot_number ?? plainDay(t.made_on)}`
