// What this screen remembers for itself: unit, scheme, sound, bench.
import { ref, watch, type Ref } from 'vue'

function kept<T extends string>(key: string, initial: T): Ref<T> {
  const r = ref(initial) as Ref<T>
  try {
    r.value = (localStorage.getItem(key) as T | null) ?? initial
  } catch {
    /* a browser without storage keeps nothing */
  }
  watch(r, (v) => {
    try {
      localStorage.setItem(key, v)
    } catch {
      /* see above */
    }
  })
  return r
}

/** '' is the shop's own unit. */
export const unitChoice = kept<'' | 'kg' | 'lb'>('falda.unit', '')
export const scheme = kept<'light' | 'dark'>('falda.scheme', 'light')
export const sound = kept<'on' | 'off'>('falda.sound', 'on')
export const benchChoice = kept<string>('falda.bench', '')

export function applyScheme(): void {
  watch(scheme, (s) => document.documentElement.setAttribute('data-scheme', s), { immediate: true })
}
