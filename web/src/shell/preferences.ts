// What this screen remembers for itself: unit, scheme, sound, bench.
import { ref, watch, type Ref } from 'vue'

/** A choice that this screen remembers for itself. */
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
/** '' follows the system. */
export const scheme = kept<'' | 'light' | 'dark'>('falda.scheme', '')
export const sound = kept<'on' | 'off'>('falda.sound', 'on')
/** Shops whose list of first steps was put away. */
export const firstStepsGone = kept<string>('falda.first-steps', '')
/** What is written on the test weight, in grams. */
export const testWeight = kept<string>('falda.test-weight', '1000')
export const benchChoice = kept<string>('falda.bench', '')

export function applyScheme(): void {
  const night = window.matchMedia('(prefers-color-scheme: dark)')
  const apply = () =>
    document.documentElement.setAttribute('data-scheme', scheme.value || (night.matches ? 'dark' : 'light'))
  night.addEventListener('change', apply)
  watch(scheme, apply, { immediate: true })
}
