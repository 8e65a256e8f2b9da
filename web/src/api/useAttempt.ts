// Tries a change: busy while it runs, and the problem when it fails.
import { nextTick, ref, shallowRef } from 'vue'
import { asProblem, type Problem } from './problem'

/** The first field that was refused, where the page marks one. */
function focusFault() {
  document.querySelector<HTMLElement>('main [aria-invalid="true"]')?.focus()
}

export function useAttempt() {
  const busy = ref(false)
  const problem = shallowRef<Problem>()
  async function attempt(f: () => Promise<unknown>) {
    busy.value = true
    problem.value = undefined
    try {
      await f()
    } catch (e) {
      problem.value = asProblem(e)
    } finally {
      busy.value = false
    }
    // fields are shut while it runs
    if (problem.value?.errors.length) await nextTick(focusFault)
  }
  return { busy, problem, attempt }
}
