// A file that is looked at before anything is kept: chosen, previewed by the server, then kept or left.
import { ref, shallowRef, useTemplateRef } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { useAttempt } from '../api/useAttempt'

/**
 * Send gives the preview, or with save keeps what is good; told says in words what was kept. The template's file input
 * is named picker.
 */
export function useFileImport<T>(send: (file: File, save: boolean) => Promise<T>, told: (done: T) => string) {
  const queries = useQueryClient()
  const { busy, problem, attempt } = useAttempt()
  const picker = useTemplateRef<HTMLInputElement>('picker')
  const chosen = shallowRef<File>()
  const seen = shallowRef<T>()
  const said = ref('')

  const look = () =>
    attempt(async () => {
      chosen.value = picker.value?.files?.[0]
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
    if (picker.value) picker.value.value = ''
  }
  return { picker, chosen, seen, said, busy, problem, look, keep, leave }
}
