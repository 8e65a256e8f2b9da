// What the desk is asked: the options and all that goes with them, kept whole in the address, so that an answer can be
// kept, sent and come back to.
import { computed, reactive, ref, watch, type Ref } from 'vue'
import { useRoute, useRouter, type LocationQuery } from 'vue-router'
import { typedCount, typedNumber } from '../words/typed'
import type { S } from '../api/client'
import { fromAddress, toAddress, type Pick } from './picks'

type Method = NonNullable<S['DeskRequest']['method']>
export interface DeskQuestion {
  atlas: string
  alternatives: Pick[]
  today: boolean
  market: string
  block: string
  margin: string
  method: Method
  credit: boolean
  /** What does not sell, step by step. */
  chain: { key: string; sells: string }[]
  /** At what was really sold in so many days; empty for prices. */
  sold: string
}

const usual = { atlas: 'beef.top_sirloin', margin: '25', method: 'nrv' as Method }
const planned = (atlas: string): Pick[] => [
  { kind: 'plan', atlas_id: atlas, plan_id: 'traditional' },
  { kind: 'plan', atlas_id: atlas, plan_id: 'seamed' },
]
const text = (q: LocationQuery, key: string, otherwise = '') => String([q[key]].flat()[0] ?? otherwise)
const all = (q: LocationQuery, key: string) => [q[key] ?? []].flat().map(String)

export function questionOf(q: LocationQuery): DeskQuestion {
  const given = all(q, 'side')
    .map(fromAddress)
    .filter((p): p is Pick => !!p)
  const atlas = given.find((p) => p.atlas_id)?.atlas_id ?? usual.atlas
  return {
    atlas,
    alternatives: given.length < 2 ? [...given, ...planned(atlas).slice(given.length)] : given,
    today: text(q, 'today') === '1',
    market: text(q, 'market'),
    block: text(q, 'block'),
    margin: text(q, 'margin', usual.margin),
    method: text(q, 'method', usual.method) as Method,
    credit: text(q, 'credit') === '1',
    sold: text(q, 'sold'),
    chain: all(q, 'chain').map((c) => ({ key: c.split('~')[0] ?? '', sells: c.split('~')[1] ?? '50' })),
  }
}

/** The address of a question; what is as usual is left out. */
export function addressOf(f: DeskQuestion): LocationQuery {
  return {
    side: f.alternatives.map(toAddress),
    ...(f.today && { today: '1' }),
    ...(f.market && { market: f.market }),
    ...(f.block.trim() && { block: f.block.trim() }),
    ...(f.margin.trim() !== usual.margin && { margin: f.margin.trim() }),
    ...(f.method !== usual.method && { method: f.method }),
    ...(f.credit && { credit: '1' }),
    ...(f.chain.length && { chain: f.chain.map((c) => `${c.key}~${c.sells}`) }),
    ...(f.sold && { sold: f.sold }),
  }
}

const clean = (p: Pick): Pick =>
  Object.fromEntries(Object.entries(p).filter(([, v]) => v !== '' && v !== undefined)) as Pick

/** The question as the server is asked it. */
export function askOf(f: DeskQuestion, unit: 'kg' | 'lb'): S['DeskRequest'] {
  const chain = f.chain.filter((c) => c.key)
  return {
    alternatives: f.alternatives.map(clean),
    today: f.today,
    method: f.method,
    credit: f.credit,
    margin_pct: f.margin.trim() ? typedNumber(f.margin) : 0,
    ...(f.market && { market: f.market }),
    ...(f.sold && { sold_days: typedCount(f.sold) || -1 }),
    ...(chain.length && {
      chain: chain.map((c, i) => ({
        key: c.key,
        sells_pct: i === chain.length - 1 ? 100 : typedNumber(c.sells),
      })),
    }),
    ...(f.block.trim() && { block_price: f.block.trim(), block_price_per: unit }),
  }
}

export function useDeskQuestion(unit: Ref<'kg' | 'lb'>) {
  const route = useRoute()
  const router = useRouter()
  const form = reactive(questionOf(route.query))
  const written = ref(JSON.stringify(addressOf(form)))
  watch(
    () => route.query,
    (q) => {
      if (route.name !== 'desk') return
      const next = questionOf(q)
      if (JSON.stringify(addressOf(next)) !== written.value) Object.assign(form, next)
    },
  )
  watch(
    form,
    () => {
      written.value = JSON.stringify(addressOf(form))
      void router.replace({ query: addressOf(form) })
    },
    { deep: true },
  )
  const whole = computed(
    () => form.alternatives.length > 1 && form.alternatives.every((p) => p.kind !== 'piece' || p.breakdown_id),
  )
  const body = computed(() => askOf(form, unit.value))
  const kind = (atlas: string) => Object.assign(form, { atlas, alternatives: planned(atlas) })
  return { form, whole, body, kind }
}
