// The shop, and how its weights and money are shown.
import { computed, watchEffect } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'
import { minus, moneyText, shopZone } from '../words/shown'
import { typedNumber } from '../words/typed'
import { unitChoice } from './preferences'
import { say } from '../words/say'

export const gramsPerPound = 453.59237

export function useShop() {
  const { data: shop, error } = useQuery({
    queryKey: keyOf('shop'),
    queryFn: () => data(GET('/shop')),
    staleTime: 60_000,
  })
  watchEffect(() => {
    if (shop.value) shopZone.value = shop.value.time_zone
  })
  const unit = computed<'kg' | 'lb'>(() => unitChoice.value || shop.value?.weight_unit || 'kg')
  const per = computed(() => (unit.value === 'lb' ? gramsPerPound : 1000))

  /** A mass in the shown unit, without the unit's name. */
  const bare = (g: number, places = 3) =>
    minus((g / per.value).toFixed(unit.value === 'lb' ? Math.min(places, 2) : places))
  /** A figure that was typed in the shown unit, in grams; not a number where it is none. */
  const gramsOf = (text: string) => Math.round(typedNumber(text) * per.value * 1000) / 1000
  const mass = (g: number, places = 3) => `${bare(g, places)} ${unit.value}`

  /** An amount as the server sent it, with the currency's sign. */
  const money = (amount: string | number, sign = false) =>
    moneyText(Number(amount), shop.value?.currency ?? 'EUR', shop.value?.decimals ?? 2, sign)
  const unitWord = computed(() => (unit.value === 'lb' ? say('pound') : say('kilo')))
  /** An amount per kg as an amount per shown unit, and as a price. */
  const perUnit = (perKg: string | number) => (Number(perKg) * per.value) / 1000
  const pricePer = (perKg: string | number) => `${money(perUnit(perKg))}/${unit.value}`

  /** Where weights are in pounds, temperatures are in °F. */
  const degrees = computed(() => (unit.value === 'lb' ? '°F' : '°C'))
  const temperature = (c: number) =>
    `${minus((unit.value === 'lb' ? (c * 9) / 5 + 32 : c).toFixed(1))} ${degrees.value}`
  const celsius = (shown: number) => (unit.value === 'lb' ? ((shown - 32) * 5) / 9 : shown)

  return {
    shop,
    shopError: error,
    unit,
    unitWord,
    per,
    bare,
    mass,
    gramsOf,
    money,
    perUnit,
    pricePer,
    degrees,
    temperature,
    celsius,
  }
}
