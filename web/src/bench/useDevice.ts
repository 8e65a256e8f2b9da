// A device of a bench, heard over a stream: the latest of what it says, and what it answers to a command.
import { onScopeDispose, ref, shallowRef, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { asProblem } from '../api/problem'
import { listen } from '../api/stream'
import { say } from '../words/say'

export function useDevice<R extends { simulated: boolean; message?: string }>(
  stream: MaybeRefOrGetter<string>,
  gone: R,
) {
  const reading = shallowRef<R>(gone)
  const message = ref('')
  let close: (() => void) | undefined
  let away = false

  watch(
    () => toValue(stream),
    (at) => {
      close?.()
      reading.value = gone
      close = at
        ? listen(
            at,
            (said) => {
              reading.value = JSON.parse(said) as R
              if (away) message.value = '' // what was said of the network is over
              away = false
            },
            lost,
          )
        : undefined
    },
    { immediate: true },
  )
  function lost() {
    away = true
    reading.value = {
      ...reading.value,
      ...gone,
      ...('load' in reading.value && { load: reading.value.load }),
      simulated: reading.value.simulated,
      message: say('Falda does not answer'),
    }
  }
  onScopeDispose(() => close?.())

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
