import { computed, type MaybeRefOrGetter, toValue } from 'vue'
import type { S } from '../api/client'
import { say } from '../words/say'

/** Within which box in mm all sections of a piece lie, y upward, both halves together: they are drawn at one scale. */
export function useBox(slices: MaybeRefOrGetter<S['BodySlice'][]>, half: MaybeRefOrGetter<boolean>) {
  return computed(() => {
    const points = toValue(slices).flatMap((s) => s.outline)
    const xs = points.map((p) => p[0]!)
    const ys = points.map((p) => p[1]!)
    const wide = Math.max(Math.max(...xs), -Math.min(...xs)) * (toValue(half) ? 2 : 1)
    return { wide: 2 * wide, low: Math.min(...ys), high: Math.max(...ys) }
  })
}

export const stretch = (s: { from_mm: number; to_mm: number }) =>
  say`${Math.round(s.from_mm)}–${Math.round(s.to_mm)} mm`
