// A weight typed on the number pad. With a point or comma it is in kilograms or pounds; without one it is in grams
// where the bench works in kilograms, and in pounds where it works in pounds.
import { gramsPerPound } from '../shell/shop'
import { say } from '../words/say'

export function typedGrams(text: string, unit: 'kg' | 'lb'): { g?: number; fault: string } {
  const t = text.replace(',', '.')
  if (!/^\d*\.?\d*$/.test(t) || !/\d/.test(t)) return { fault: say('That is not a weight') }
  const n = Number(t)
  const g = unit === 'lb' ? n * gramsPerPound : t.includes('.') ? n * 1000 : n
  if (g <= 0) return { fault: say('Must be above zero') }
  if (g > 1_000_000) return { fault: say('More than a tonne; check the number') }
  return { g: Math.round(g * 1000) / 1000, fault: '' }
}
