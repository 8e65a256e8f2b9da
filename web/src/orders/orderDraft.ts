// An order as it is typed, and as it is sent.
import { newId } from '../bench/queue'
import type { S } from '../api/client'
import { dayOr, typedMass } from '../words/typed'

export interface LineDraft {
  key: string
  weight: string
  packs: string
  pieces: string
  price: string
  note: string
}
export interface CutDraft {
  plan: string
  count: number
  pieces: string
  note: string
}
export interface OrderForm {
  id: string
  customer: string
  day: string
  time: string
  note: string
  kind: 'products' | 'whole'
  lines: LineDraft[]
  carcass: string
  division: string
  weight: string
  price: string
  /** By piece. */
  cuts: Record<string, CutDraft[]>
}

export const emptyLine = (): LineDraft => ({ key: '', weight: '', packs: '', pieces: '', price: '', note: '' })

export const emptyOrder = (): OrderForm => ({
  id: newId(),
  customer: '',
  day: '',
  time: '12:00',
  note: '',
  kind: 'products',
  lines: [emptyLine()],
  carcass: 'lamb.whole',
  division: '',
  weight: '',
  price: '',
  cuts: {},
})

/** A figure as a field shows it: nothing for none. */
const text = (n: number) => (n ? String(n) : '')

/** The form of an order that is there, weights in the shown unit. */
export function formOf(o: S['Order'], bare: (g: number) => string): OrderForm {
  const cuts: Record<string, CutDraft[]> = {}
  for (const c of o.whole?.cuts ?? []) {
    cuts[c.piece] = [
      ...(cuts[c.piece] ?? []),
      { plan: c.plan_id, count: c.count, pieces: text(c.pieces), note: c.note },
    ]
  }
  return {
    ...emptyOrder(),
    customer: o.customer,
    day: o.day,
    time: o.time,
    note: o.note,
    kind: o.whole ? 'whole' : 'products',
    lines: o.whole
      ? [emptyLine()]
      : o.lines.map((l) => ({
          key: l.product_key,
          weight: bare(l.weight_g / (l.packs || 1)),
          packs: text(l.packs),
          pieces: text(l.pieces),
          price: l.agreed ? (l.price_per_kg ?? '') : '',
          note: l.note,
        })),
    ...(o.whole && {
      carcass: o.whole.carcass,
      division: o.whole.division,
      weight: bare(o.whole.weight_g),
      price: o.whole.price_per_kg,
    }),
    cuts,
  }
}

const whole = (n: string) => Math.round(Number(n)) || 0

/** A whole animal as it is asked for. */
export function wholeDraft(f: OrderForm, unit: string): S['WholeDraft'] {
  const w = typedMass(f.weight)
  return {
    carcass: f.carcass,
    ...(f.division && { division: f.division }),
    weight: w.number,
    unit: w.unit ?? unit,
    price_per_kg: f.price.trim(),
    cuts: Object.entries(f.cuts).flatMap(([piece, list]) =>
      list.map((c) => ({
        piece,
        plan_id: c.plan,
        count: c.count,
        pieces: whole(c.pieces),
        note: c.note,
      })),
    ),
  }
}

/** The order as it is sent. */
export function orderDraft(f: OrderForm, unit: string, version = 0): S['OrderDraft'] {
  return {
    id: f.id,
    customer: f.customer,
    note: f.note,
    day: dayOr(f.day),
    time: f.time.trim(),
    version,
    ...(f.kind === 'whole'
      ? { whole: wholeDraft(f, unit) }
      : {
          lines: f.lines.map((l) => {
            const w = typedMass(l.weight)
            return {
              product_key: l.key,
              weight: w.number,
              unit: w.unit ?? unit,
              packs: whole(l.packs),
              pieces: whole(l.pieces),
              price: l.price.trim(),
              note: l.note,
            }
          }),
        }),
  }
}
