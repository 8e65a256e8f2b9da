// Server-sent events that go on whatever happens: a browser reconnects by itself after a dead line, but not after an
// answer that is an error, such as a proxy's while the program restarts.
const again = 2000 // ms

export function listen(at: string, heard: (data: string) => void, lost?: () => void): () => void {
  let source: EventSource | undefined
  let timer: ReturnType<typeof setTimeout> | undefined
  function open() {
    source = new EventSource(at)
    source.onmessage = (m) => heard(m.data as string)
    source.onerror = () => {
      lost?.()
      if (source?.readyState === EventSource.CLOSED) timer = setTimeout(open, again)
    }
  }
  open()
  return () => {
    clearTimeout(timer)
    source?.close()
  }
}
