// Where the work is in a plan of steps: what is done before the next weighing, and what comes after it.
import { computed, type ComputedRef, type Ref } from 'vue'
import type { S } from '../api/client'

export interface NextStep {
  id: string
  words: S['SeamWords']
}

export function useSteps(o: {
  board: Ref<S['Board'] | undefined>
  target: Ref<S['Expected'] | undefined>
  isTaken: (e: S['Expected']) => boolean
  /** Steps whose tick, or leaving out, waits to be confirmed. */
  waiting: ComputedRef<Set<string>>
}) {
  const behind = computed(() => new Set([...(o.board.value?.done ?? []), ...o.waiting.value]))
  /** Steps without a weight between the last weighing and the next one, as far as they are not done. */
  const meanwhile = computed<NextStep[]>(() => {
    const fixed = o.board.value?.fixed
    const steps = fixed?.steps ?? []
    const at = o.target.value?.step ? steps.findIndex((s) => s.id === o.target.value?.step) : steps.length
    const before = steps.slice(0, Math.max(0, at))
    const from = before.map((s) => s.weighed).lastIndexOf(true)
    return before
      .slice(from + 1)
      .filter((s) => !behind.value.has(s.id))
      .flatMap((s) => {
        const words = fixed?.words[`step:${s.id}`]
        return words ? [{ id: s.id, words }] : []
      })
  })
  /** The two weighings after the next one. */
  const ahead = computed(() => {
    const list = (o.board.value?.expected ?? []).filter((e) => !o.isTaken(e) && e.kind !== 'tub')
    const at = list.findIndex((e) => e.key === o.target.value?.key)
    return at < 0 ? [] : list.slice(at + 1, at + 3)
  })
  return { meanwhile, ahead }
}
