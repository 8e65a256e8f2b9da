// What speaks against a weight before it is booked.
import type { useShop } from '../shell/shop'
import { say } from '../words/say'

/** What is usual of what is weighed next, in grams, and how much of the piece is left to weigh. */
export interface Usual {
  low?: number
  high?: number
  label?: number
  left?: number
}
export interface Doubt {
  says: string
  /** It cannot be so: more than there is. */
  impossible: boolean
}

/** As much more than what is left is what scales make of it: one part in a hundred and ten grams. */
const slack = (g: number) => g * 0.01 + 10
/** So far from its label a piece is weighed by mistake more likely than it is labelled so. */
const labelled = 0.2

export function doubtOf(g: number, usual: Usual, { bare, mass }: Pick<ReturnType<typeof useShop>, 'bare' | 'mass'>) {
  if (usual.left !== undefined && g > usual.left + slack(usual.left))
    return { says: say`More than is left of it: ${mass(Math.max(0, usual.left))}.`, impossible: true }
  if (usual.label && Math.abs(g - usual.label) > usual.label * labelled)
    return { says: say`Its label says ${mass(usual.label, 2)}.`, impossible: false }
  if (usual.low !== undefined && usual.high && (g < usual.low || g > usual.high))
    return { says: say`Usual is ${bare(usual.low, 2)} to ${mass(usual.high, 2)}.`, impossible: false }
  return undefined
}
