// A recipe as it is typed.
import type { S } from '../api/client'
import { typedNumber } from '../words/typed'
import { say } from '../words/say'

type Figure =
  | 'lean_min_pct'
  | 'lean_max_pct'
  | 'collagen_max_pct'
  | 'piece_g'
  | 'making_loss_pct'
  | 'cooking_loss_pct'
  | 'slicing_loss_pct'
  | 'batch_kg'
  | 'shelf_days'
  | 'week_kg'

/** The figures of a recipe, in the order in which they are asked; meat: only where it holds meat. */
export const numbers: { id: Figure; label: string; hint?: string; meat?: boolean }[] = [
  { id: 'lean_min_pct', label: say('Lean at least, %'), meat: true },
  { id: 'lean_max_pct', label: say('Lean at most, %'), meat: true },
  { id: 'collagen_max_pct', label: say('Collagen at most, % of protein'), meat: true },
  { id: 'piece_g', label: say('One weighs, g'), hint: say('Empty where it is loose'), meat: true },
  { id: 'making_loss_pct', label: say('Lost in the making, %') },
  { id: 'cooking_loss_pct', label: say('Lost in cooking, %'), meat: true },
  { id: 'slicing_loss_pct', label: say('Lost in slicing, %'), meat: true },
  { id: 'batch_kg', label: say('The mincer takes, kg'), hint: say('Empty for any amount'), meat: true },
  { id: 'shelf_days', label: say('Keeps, days') },
  { id: 'week_kg', label: say('Sells in a week, kg'), hint: say('Empty where all of it sells'), meat: true },
]

export interface RecipeDraft {
  name: string
  kind: string
  price: string
  species: string
  category: string
  key: string
  numbers: Record<Figure, string>
  shares: { of: string; least: string; most: string }[]
  lines: { ingredient: string; per: string }[]
}

const shown = (n: number) => (n ? String(n) : '')

/** What is eaten is typed in grams or millilitres a kilogram, as recipes say it; string and net as they are. */
const fine = (unit: string) => (unit === 'kg' || unit === 'litre' || unit === '' ? 1000 : 1)
export const unitOf = (unit: string) => ({ kg: 'g', litre: 'ml' })[unit] ?? unit
const tidy = (n: number) => String(Math.round(n * 1e6) / 1e6)

export function formOf(r?: S['Recipe']): RecipeDraft {
  const b = r?.body
  const unit = (key: string) => r?.amounts.find((a) => a.key === key)?.unit ?? ''
  return {
    name: r?.name ?? '',
    kind: b?.kind ?? 'mince',
    price: r?.price ?? '',
    species: b?.species ?? 'beef',
    category: b?.category ?? '',
    key: r?.ingredient_key ?? '',
    numbers: Object.fromEntries(
      numbers.map((n) => [n.id, b ? shown(b[n.id]) : n.id === 'shelf_days' ? '2' : '']),
    ) as Record<Figure, string>,
    shares: (b?.shares ?? []).map((s) => ({ of: s.of, least: shown(s.least_pct), most: shown(s.most_pct) })),
    lines: (b?.lines ?? []).map((l) => ({ ingredient: l.ingredient, per: tidy(l.per_kg * fine(unit(l.ingredient))) })),
  }
}

/** A figure as it is sent: nothing typed is 0; what is no number is −1, for the server to say so. */
const figure = (text: string) => {
  if (!text.trim()) return 0
  const n = typedNumber(text)
  return Number.isFinite(n) ? n : -1
}

export function bodyOf(f: RecipeDraft, meat: boolean, unit: (key: string) => string): S['RecipeBody'] {
  const all = Object.fromEntries(numbers.map((n) => [n.id, meat || !n.meat ? figure(f.numbers[n.id]) : 0])) as Record<
    Figure,
    number
  >
  return {
    ...all,
    shelf_days: Math.round(all.shelf_days),
    kind: f.kind,
    species: meat ? f.species : '',
    category: meat ? f.category : '',
    shares: meat ? f.shares.map((s) => ({ of: s.of, least_pct: figure(s.least), most_pct: figure(s.most) })) : [],
    lines: f.lines.map((l) => ({ ingredient: l.ingredient, per_kg: figure(l.per) / fine(unit(l.ingredient)) })),
  }
}
