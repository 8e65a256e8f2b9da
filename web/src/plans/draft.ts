// A plan while it is changed: shares as they are typed, and what is still missing.
import type { S } from '../api/client'

export interface DraftProduct {
  row: number // its own for as long as the page is open
  id?: string
  name: string
  form: string
  cook: string
  thickness: string
  portion: string
  low: string
  high: string
  lean?: number
  from: Record<string, string>
}

export interface Draft {
  name: string
  why: string
  cut: string
  tool: string
  minutes: string
  products: DraftProduct[]
  waste: Record<string, string>
}

let rows = 0
const text = (n: number | undefined) => (n ? String(n) : '')
const texts = (m: Record<string, number>) => Object.fromEntries(Object.entries(m).map(([k, v]) => [k, String(v)]))

export function draftOf(p: S['Plan']): Draft {
  return {
    name: p.name,
    why: p.why,
    cut: p.cut,
    tool: p.tool,
    minutes: String(p.minutes),
    waste: texts(p.waste),
    products: p.products.map((r) => ({
      row: ++rows,
      id: r.id,
      name: r.name,
      form: r.form,
      cook: r.cook ?? '',
      thickness: text(r.thickness_mm),
      portion: text(r.portion_g),
      low: text(r.count_low),
      high: text(r.count_high),
      ...(r.lean_pct && { lean: r.lean_pct }),
      from: texts(r.from),
    })),
  }
}

export function newProduct(known?: S['Price']): DraftProduct {
  return {
    row: ++rows,
    ...(known && { id: known.key.replace(/^[^.]*\./, '') }),
    name: known?.name ?? '',
    form: known?.form ?? 'steak',
    cook: '',
    thickness: '',
    portion: '',
    low: '',
    high: '',
    from: {},
  }
}

/**
 * A number as it was typed, with a point or a comma; nothing for an empty field, and what is no number goes to the
 * server as one that it refuses.
 */
export function number(t: string): number {
  const s = t.trim().replace(',', '.')
  if (s === '') return 0
  return /^\d*\.?\d+$|^\d+\.$/.test(s) ? Number(s) : -1
}

const shares = (m: Record<string, string>) =>
  Object.fromEntries(
    Object.entries(m)
      .map(([k, v]) => [k, number(v)] as const)
      .filter(([, v]) => v !== 0),
  )

export function bodyOf(d: Draft): S['PlanDraft'] {
  return {
    name: d.name,
    why: d.why,
    cut: d.cut,
    tool: d.tool,
    minutes: number(d.minutes),
    waste: shares(d.waste),
    products: d.products.map((p) => ({
      ...(p.id && { id: p.id }),
      name: p.name,
      form: p.form,
      ...(p.cook && { cook: p.cook }),
      thickness_mm: number(p.thickness),
      portion_g: number(p.portion),
      count_low: Math.round(number(p.low)),
      count_high: Math.round(number(p.high || p.low)),
      ...(p.lean && { lean_pct: p.lean }),
      from: shares(p.from),
    })),
  }
}

/** How many percent of a part have a place. */
export function placed(d: Draft, part: string): number {
  const sum = d.products.reduce(
    (s, p) => s + Math.max(0, number(p.from[part] ?? '')),
    Math.max(0, number(d.waste[part] ?? '')),
  )
  return Math.round(sum * 1000) / 1000
}
