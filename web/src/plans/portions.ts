// How many portions a product makes, in words.
import type { S } from '../api/client'
import { say } from '../words/say'

export function portionWords(
  r: Pick<S['OutputRow'], 'portions'>,
  bare: (g: number, places?: number) => string,
  unit: 'kg' | 'lb',
): string {
  const p = r.portions
  if (!p) return ''
  const many = p.low === p.high ? String(p.low) : `${p.low}–${p.high}`
  const each =
    unit === 'lb'
      ? say`${bare(p.each_g, 2)} lb`
      : p.each_g < 1000
        ? `${Math.round(p.each_g / 5) * 5} g`
        : say`${bare(p.each_g, 2)} kg`
  if (p.basis === 'counted') return say`${p.low === 1 ? say('one') : p.low}, counted, of ${each}`
  return p.high === 1 ? say('one piece') : say`${many} of ${p.basis === 'count' ? say('about ') : ''}${each}`
}
