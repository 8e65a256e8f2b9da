// The tub that lies on the scale, and a weight that is held: what the plate shows and what is booked.
import { computed, ref, shallowRef, watch, type Ref } from 'vue'
import type { Reading } from './useScale'

export interface Tub {
  name: string
  g: number
}

const key = 'falda.tubs'
function kept(): Tub[] {
  try {
    const list = JSON.parse(localStorage.getItem(key) ?? '[]') as Tub[]
    return Array.isArray(list)
      ? list.filter((t) => typeof t?.name === 'string' && typeof t?.g === 'number' && t.g > 0)
      : []
  } catch {
    return []
  }
}
export const tubs = ref<Tub[]>(kept())
watch(tubs, (t) => {
  try {
    localStorage.setItem(key, JSON.stringify(t))
  } catch {
    /* a browser without storage keeps nothing */
  }
})

export function useTub(reading: Ref<Reading>) {
  const tub = shallowRef<Tub>()
  const held = shallowRef<Reading>()
  /** What the scale shows less the tub; a held weight stays until it is booked or let go. */
  const weighed = computed<Reading>(() => {
    if (held.value) return held.value
    const r = reading.value
    if (!tub.value || r.status !== 'ok') return r
    return { ...r, net_g: r.net_g - tub.value.g, tare_g: r.tare_g + tub.value.g }
  })
  function hold() {
    const r = weighed.value
    held.value = held.value || r.status !== 'ok' || !r.stable || r.net_g <= 0 ? undefined : r
    return held.value !== undefined
  }
  return { tub, held, weighed, hold }
}
