// What a new shop is made with: its names, money and clock, with the usual costs of its country filled in.
import { computed, reactive, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, GET } from '../api/client'
import { zoneHere } from '../shell/zones'
import { marketHere } from '../words/markets'
import { typedNumber } from '../words/typed'

export function useNewShop(benches: string) {
  const form = reactive({
    name: '',
    market: '',
    currency: '',
    time_zone: zoneHere(),
    weight_unit: 'kg',
    labour_rate: '',
    packaging_per_kg: '',
    discard_per_kg: '',
    tax: '',
    benches,
  })
  const { data: usual } = useQuery({
    queryKey: keyOf('usual-costs'),
    queryFn: () => data(GET('/set-up')),
    staleTime: Infinity,
  })
  const markets = computed(() => usual.value?.map((u) => u.market) ?? [])
  watch(markets, (list) => (form.market ||= marketHere(list)), { immediate: true })
  /** What is usual there is filled in, to be changed: nothing that costs money is silently nothing. */
  watch(
    () => usual.value?.find((u) => u.market === form.market),
    (u) => {
      if (!u) return
      form.currency = u.currency
      form.weight_unit = u.weight_unit
      form.labour_rate = u.labour_rate
      form.packaging_per_kg = u.packaging_per_kg
      form.discard_per_kg = u.discard_per_kg
      form.tax = String(u.tax_pct)
    },
    { immediate: true },
  )
  const body = () => {
    const { tax, ...rest } = form
    const tax_pct = tax.trim() ? typedNumber(tax) : 0
    return {
      ...rest,
      currency: form.currency.trim().toUpperCase(),
      tax_pct: Number.isFinite(tax_pct) ? tax_pct : -1,
      benches: form.benches
        .split(',')
        .map((b) => b.trim())
        .filter(Boolean),
    }
  }
  return { form, markets, body }
}

/** The fields that {@link useNewShop} shows, as the server names them. */
export const newShopFields = [
  'name',
  'market',
  'currency',
  'packaging_per_kg',
  'discard_per_kg',
  'tax_pct',
  'time_zone',
  'weight_unit',
  'labour_rate',
  'benches',
]
