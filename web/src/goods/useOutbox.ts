// Bookings on their way: each is written down in the browser before it is sent and taken out once the server has it,
// under an id of its own, so that neither a reload nor a dead network loses one or books it twice.
import { onScopeDispose, ref } from 'vue'
import { asProblem, isFinal, type Problem } from '../api/problem'
import { queue } from '../bench/queue'

interface Booked {
  id: string
}
const pause = 4000

export function useOutbox<B extends Booked, A>(name: string, send: (b: B) => Promise<A>, heard: (answer: A) => void) {
  const waiting = ref(0)
  /** What was refused of what had waited, in words. */
  const refused = ref('')
  let sending: Promise<Problem | undefined> | undefined
  let timer: ReturnType<typeof setTimeout> | undefined

  /** Sends what waits, in order; gives the problem of the booking that is asked about. */
  async function flush(about?: string): Promise<Problem | undefined> {
    let found: Problem | undefined
    for (const w of await queue.of(name)) {
      const b = w.event as unknown as B
      try {
        heard(await send(b))
      } catch (e) {
        if (!isFinal(e)) {
          later()
          break
        }
        if (b.id === about) found = asProblem(e)
        else refused.value = asProblem(e).message
      }
      await queue.remove(w.seq)
    }
    waiting.value = (await queue.of(name)).length
    return found
  }
  function later() {
    clearTimeout(timer)
    timer = setTimeout(() => void go(), pause)
  }
  const go = async (about?: string): Promise<Problem | undefined> => {
    await sending
    sending = flush(about)
    try {
      return await sending
    } finally {
      sending = undefined
    }
  }
  /** Books; fails where it is refused, and waits where nobody answers. */
  async function book(b: B) {
    await queue.add({ breakdown: name, event: b as never })
    waiting.value++
    const problem = await go(b.id)
    if (problem) throw problem
  }
  void go()
  onScopeDispose(() => clearTimeout(timer))
  return { book, waiting, refused }
}
