// A device of a bench, heard over a stream: the latest of what it says, and what it answers to a command.
import { onScopeDispose, ref, shallowRef, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { asProblem } from '../api/problem'

export function useDevice<R extends { simulated: boolean; message?: string }>(stream: MaybeRefOrGetter<string>, gone: R) {
  const reading = shallowRef<R>(gone)
  const message = ref('')
  let source: EventSource | undefined

  watch(() => toValue(stream), (at) => {
    source?.close()
    reading.value = gone
    if (!at) return
    source = new EventSource(at)
    source.onmessage = (e) => {
      reading.value = JSON.parse(e.data as string) as R
    }
    source.onerror = () => {
      reading.value = { ...reading.value, ...gone, ...('load' in reading.value && { load: reading.value.load }), simulated: reading.value.simulated, message: 'Falda does not answer' }
    }
  }, { immediate: true })
  onScopeDispose(() => source?.close())

  async function tell(command: () => Promise<unknown>) {
    message.value = ''
    try {
      await command()
    } catch (e) {
      message.value = asProblem(e).message
    }
  }
  return { reading, message, tell }
}
