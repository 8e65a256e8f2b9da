// A file fetched from the server and kept: how far it is, and in words why it did not come.
import { ref } from 'vue'
import { save } from './save'
import { offline, Problem } from './problem'
import { useAttempt } from './useAttempt'

export function useDownload() {
  const { busy, problem, attempt } = useAttempt()
  /** Percent that has come; nothing where the server does not say how long it is. */
  const part = ref<number>()

  /** Fetches an address and keeps what comes under the name that the server gives it. */
  const download = (address: string, init?: RequestInit) =>
    attempt(async () => {
      part.value = undefined
      const answer = await fetch(address, init).catch(() => {
        throw offline()
      })
      if (!answer.ok) throw Problem.of(await answer.json().catch(() => undefined), answer.status)
      const name = /filename="([^"]+)"/.exec(answer.headers.get('Content-Disposition') ?? '')?.[1]
      save(await whole(answer), name ?? (address.split('/').pop()?.replace(/\?.*/, '') || 'falda'))
    })

  async function whole(answer: Response): Promise<Blob> {
    const length = Number(answer.headers.get('Content-Length'))
    if (!answer.body || !length) return answer.blob()
    const chunks: BlobPart[] = []
    let come = 0
    const reader = answer.body.getReader()
    for (;;) {
      const { done, value } = await reader.read()
      if (done) break
      chunks.push(value as Uint8Array<ArrayBuffer>)
      come += value.length
      part.value = Math.min(100, Math.round((come / length) * 100))
    }
    return new Blob(chunks, { type: answer.headers.get('Content-Type') ?? '' })
  }
  return { busy, part, problem, download }
}
