// A file that is looked at before anything is kept: chosen, previewed by the server, then kept or left.
import { ref, shallowRef } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useAttempt } from '../api/useAttempt'

/** Send gives the preview, or with save keeps what is good; told says in words what was kept. */
export function useFileImport<T>(send: (file: File, save: boolean) => Promise<T>, told: (done: T) => string) {
  const queries = useQueryClient()
  const { busy, problem, attempt } = useAttempt()
  const chosen = shallowRef<File>()
  const seen = shallowRef<T>()
  const said = ref('')

  /** Looks at a file; without one at that which was chosen, once more. */
  const look = (file = chosen.value) =>
    attempt(async () => {
      chosen.value = file
      seen.value = undefined
      said.value = ''
      if (chosen.value) seen.value = await send(chosen.value, false)
    })
  const keep = () =>
    attempt(async () => {
      said.value = told(await send(chosen.value!, true))
      leave()
      await queries.invalidateQueries()
    })
  function leave() {
    seen.value = undefined
    chosen.value = undefined
  }
  return { chosen, seen, said, busy, problem, look, keep, leave }
}
