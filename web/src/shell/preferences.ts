// What this screen remembers for itself: unit, scheme, sound, bench.
import { ref, watch, type Ref } from 'vue'
import { remember, remembered } from './remembered'

/** A choice that this screen remembers for itself. */
function kept<T extends string>(key: string, initial: T): Ref<T> {
  const r = ref(remembered(key) ?? initial) as Ref<T>
  watch(r, (v) => remember(key, v))
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
