// Temperatures and weights as eaters want them: in °C and grams, or in °F and pounds.
import { computed, ref } from 'vue'
import { unitChoice } from '../shell/preferences'

export function useDegrees() {
  const system = ref(unitChoice.value === 'lb' ? '°F, lb' : '°C, g')
  const us = computed(() => system.value.startsWith('°F'))
  const degrees = (c: number) => (us.value ? `${Math.round((c * 9) / 5 + 32)} °F` : `${Math.round(c)} °C`)
  const weight = (g: number) =>
    us.value ? `${(g / 453.59237).toFixed(2)} lb` : g < 1000 ? `${Math.round(g)} g` : `${(g / 1000).toFixed(2)} kg`
  const words = (text: string) => (us.value ? text.replace(/(\d+) °C/g, (_, n) => degrees(Number(n))) : text)
  return { system, systems: ['°C, g', '°F, lb'], us, degrees, weight, words }
}
