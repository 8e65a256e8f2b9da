// A weight away from the board: typed, or in its place what lies steady on the scale of a bench that is chosen.
import { computed, ref } from 'vue'
import { useShop } from '../shell/shop'
import { typedMass } from '../words/typed'
import { useScale } from './useScale'

export function useWeighed() {
  const { shop, unit, mass } = useShop()
  const bench = ref('')
  const benches = computed(() => shop.value?.benches.filter((b) => b.has_scale) ?? [])
  const { reading } = useScale(computed(() => bench.value || undefined))
  const live = computed(() => reading.value.status === 'ok' && reading.value.stable && reading.value.net_g > 0)
  /** What an empty field stands for. */
  const placeholder = computed(() => (live.value ? mass(reading.value.net_g) : ''))
  const there = (text: string) => text.trim() !== '' || live.value
  /** What a field says, or the scale where it says nothing. */
  function weighed(text: string) {
    if (text.trim() === '' && live.value)
      return { weight: String(reading.value.net_g), unit: 'g', source: 'scale' } as const
    const w = typedMass(text)
    return { weight: w.number, unit: w.unit ?? unit.value, source: 'typed' } as const
  }
  return { bench, benches, reading, live, placeholder, there, weighed }
}
