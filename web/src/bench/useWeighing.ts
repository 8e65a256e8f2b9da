// The weight that would be booked: what the scale shows, less the tub, or what is typed; what speaks against it; and
// why nothing can be booked, in words.
import { computed, ref, watch, type Ref } from 'vue'
import { useShop } from '../shell/shop'
import { doubtOf, type Usual } from './doubt'
import { tone } from './sound'
import { typedGrams } from './typedWeight'
import { useScale } from './useScale'
import type { BenchEvent } from './useSync'
import { useTub } from './useTub'
import { say } from '../words/say'

export function useWeighing(bench: Ref<string | undefined>, may: () => boolean, usual: () => Usual) {
  const shop = useShop()
  const { reading: onScale, message, command } = useScale(bench)
  const { tub, held, weighed: reading, hold } = useTub(onScale)
  const typed = ref('')
  const quiet = ref('')
  const bookedLoad = ref(-1)
  const typedWeight = computed(() => (typed.value ? typedGrams(typed.value, shop.unit.value) : { fault: '' }))
  const live = computed(
    () => reading.value.status === 'ok' && reading.value.stable && !reading.value.message && reading.value.net_g > 0,
  )
  const sameLoad = computed(() => reading.value.load === bookedLoad.value)
  const canBook = computed(
    () => may() && (typed.value ? typedWeight.value.g !== undefined : live.value && !sameLoad.value),
  )
  /** What would be booked, in grams. */
  const grams = computed(() =>
    typed.value ? typedWeight.value.g : live.value && !sameLoad.value ? reading.value.net_g : undefined,
  )
  const doubt = computed(() => (may() && grams.value !== undefined ? doubtOf(grams.value, usual(), shop) : undefined))
  /** The weight that was asked for a second time, because there is not so much of it. */
  const insisted = ref<number>()
  watch(grams, () => (insisted.value = undefined))

  function found(): Partial<BenchEvent> | undefined {
    quiet.value = ''
    if (typed.value) {
      if (typedWeight.value.g === undefined) return undefined
      return { net_g: typedWeight.value.g, source: 'typed' }
    }
    const r = reading.value
    if (live.value && sameLoad.value)
      quiet.value = say('This weight is booked already. Take it off, or type the weight.')
    else if (r.status === 'ok' && r.message)
      quiet.value = say('What the scale says is not understood; type the weight.')
    else if (r.status === 'ok' && !r.stable) quiet.value = say('The scale still moves.')
    else if (r.status === 'ok' && r.net_g <= 0) quiet.value = say('Nothing lies on the scale.')
    if (!canBook.value) return undefined
    return { net_g: r.net_g, gross_g: r.gross_g, tare_g: r.tare_g, division_g: r.division_g, source: 'scale' }
  }
  /** Takes the weight to be booked, so that it is not booked twice; nothing where there is none, and then says why. */
  function take() {
    const w = found()
    if (w && doubt.value?.impossible && insisted.value !== w.net_g) {
      insisted.value = w.net_g
      quiet.value = say('Look at it again. The same key once more books it all the same.')
    } else if (w) {
      if (w.source === 'scale') bookedLoad.value = reading.value.load
      held.value = undefined
      typed.value = ''
      return w
    }
    tone('refused')
    return undefined
  }
  /** What lies on the scale counts anew: what was booked of it was undone. */
  const releases = () => (bookedLoad.value = -1)
  const letGo = () => {
    typed.value = ''
    quiet.value = ''
    held.value = undefined
  }
  const holdIt = () => {
    quiet.value = hold() || held.value ? '' : say('Nothing steady lies on the scale to hold.')
  }
  const digit = (d: string) => {
    if (typed.value.length < 9) typed.value += d
  }
  const backspace = () => {
    typed.value = typed.value.slice(0, -1)
  }
  return {
    reading,
    onScale,
    message,
    command,
    tub,
    held,
    typed,
    typedWeight,
    quiet,
    canBook,
    doubt,
    take,
    releases,
    letGo,
    holdIt,
    digit,
    backspace,
  }
}
