// An arrival as it is typed, new or corrected.
import type { S } from '../../api/client'
import { isDay, typedCount, typedDay, typedMass } from '../../words/typed'

export const aboutFields = [
  'bone',
  'breed',
  'feed',
  'sex',
  'age_class',
  'hang',
  'fat_class',
  'marbling',
  'supplier_grade',
  'ph',
  'temperature_c',
  'fat_pct',
  'lean_yield_pct',
  'born_in',
  'reared_in',
  'slaughtered_in',
  'plant',
] as const
export type AboutField = (typeof aboutFields)[number]

export interface ArrivalForm {
  pieces: string
  weight: string
  weightUnit: string
  /** What the invoice says that all weigh, in the same unit; '' where nobody looked. */
  invoiced: string
  /** Weights of the pieces one by one, or nothing. */
  each: string
  price: string
  pricePer: string
  slaughtered: string
  packed: string
  supplier: string
  lot: string
  note: string
  /** One of the piece's forms; the usual one where it is ''. */
  form: string
  findings: string[]
  decided: Record<string, string>
  about: Record<AboutField, string>
}

export function emptyArrival(): ArrivalForm {
  return {
    pieces: '1',
    weight: '',
    weightUnit: 'kg',
    invoiced: '',
    each: '',
    price: '',
    pricePer: 'kg',
    slaughtered: '',
    packed: '',
    supplier: '',
    lot: '',
    note: '',
    form: '',
    findings: [],
    decided: {},
    about: {
      bone: '',
      breed: '',
      feed: '',
      sex: '',
      age_class: '',
      hang: '',
      fat_class: '',
      marbling: '',
      supplier_grade: '',
      ph: '',
      temperature_c: '',
      fat_pct: '',
      lean_yield_pct: '',
      born_in: '',
      reared_in: '',
      slaughtered_in: '',
      plant: '',
    },
  }
}

/** A lot as it would be typed in again. */
export function arrivalOf(d: S['LotDetail']): ArrivalForm {
  const l = d.lot
  const kg = (g: number) => String(Math.round(g * 1000) / 1_000_000)
  const weights = d.cards.map((c) => (c.weight_basis === 'measured' ? undefined : c.weight_g))
  const even = weights.every((w) => w !== undefined && Math.abs(w - weights[0]!) < 0.01)
  return {
    ...emptyArrival(),
    pieces: String(l.pieces),
    weight: kg(l.total_g),
    invoiced: l.invoiced_g === undefined ? '' : kg(l.invoiced_g),
    each: even || weights.includes(undefined) ? '' : weights.map((w) => kg(w!)).join(' '),
    price: l.price,
    pricePer: l.price_per,
    slaughtered: l.slaughtered_on,
    packed: l.packed_on,
    supplier: l.supplier,
    lot: l.lot_number,
    note: l.note ?? '',
    form: l.form ?? '',
    findings: l.findings.map((f) => f.id),
    decided: { ...l.decided },
    about: Object.fromEntries(aboutFields.map((f) => [f, String(l[f] ?? '')])) as Record<AboutField, string>,
  }
}

/** What stays the same for another box of a delivery. */
export function anotherOf(d: S['LotDetail']): ArrivalForm {
  const same = { weight: '', invoiced: '', each: '', lot: '', findings: [], decided: {} }
  return { ...arrivalOf(d), ...same }
}

/** The piece of a lot as the search would give it. */
export const hitOf = (l: S['Lot']) =>
  ({ id: l.atlas_id, name: l.name, matched: l.name, other_meanings: [] }) as unknown as S['PieceHit']

const days = (f: ArrivalForm) => ({ slaughtered: typedDay(f.slaughtered), packed: typedDay(f.packed) })
const eachOf = (f: ArrivalForm) => f.each.split(/[\s;]+/).filter(Boolean)

function shared(f: ArrivalForm) {
  const w = typedMass(f.weight)
  const each = eachOf(f)
  const known = Object.fromEntries(aboutFields.map((k) => [k, f.about[k].trim()]).filter(([, v]) => v))
  const decided = Object.fromEntries(Object.entries(f.decided).filter(([k]) => f.findings.includes(k)))
  return {
    pieces: typedCount(f.pieces),
    weight: w.number,
    weight_unit: (w.unit ?? f.weightUnit) as 'kg',
    price: f.price.trim(),
    price_per: f.pricePer as 'kg',
    findings: f.findings,
    ...(f.form && { form: f.form }),
    ...(each.length && { weights: each }),
    ...(Object.keys(decided).length && { decided }),
    ...known,
  }
}

export function bodyOf(f: ArrivalForm, atlasId: string): S['NewLot'] {
  const d = days(f)
  return {
    ...shared(f),
    atlas_id: atlasId,
    slaughtered_on: d.slaughtered,
    packed_on: d.packed,
    supplier: f.supplier,
    lot_number: f.lot,
    ...(f.invoiced.trim() && { invoiced: f.invoiced.trim() }),
    ...(f.note.trim() && { note: f.note }),
  }
}

/** What the server needs to answer while it is typed; nothing before it can be known. */
export function forecastOf(f: ArrivalForm, atlasId: string | undefined): S['ForecastRequest'] | undefined {
  const s = shared(f)
  if (!atlasId || !(s.weight || s.weights) || !s.price) return undefined
  const d = days(f)
  return {
    ...s,
    atlas_id: atlasId,
    ...(isDay(d.slaughtered) && { slaughtered_on: d.slaughtered }),
    ...(isDay(d.packed) && { packed_on: d.packed }),
  }
}

/** The fields that the form shows a fault at. */
export const shownFields = [
  'atlas_id',
  'pieces',
  'weight',
  'weights',
  'weight_unit',
  'invoiced',
  'price',
  'price_per',
  'slaughtered_on',
  'packed_on',
  'supplier',
  'lot_number',
  'form',
  'findings',
  'decided',
  'note',
  'reason',
  ...aboutFields,
]
