// Tries a change: busy while it runs, and the problem when it fails.
import { ref, shallowRef } from 'vue'
import { asProblem, type Problem } from './problem'

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
  }
  return { busy, problem, attempt }
}
