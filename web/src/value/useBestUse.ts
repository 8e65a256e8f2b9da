// The best use of what is ready, asked anew whenever what it depends on changes; what was asked is remembered.
import { computed, reactive, ref, watch } from 'vue'
import { useQueryClient } from '@tanstack/vue-query'
import { keyOf } from '../api/keys'
import { data, POST, PUT, type S } from '../api/client'
import { useAttempt } from '../api/useAttempt'
import { typedNumber } from '../words/typed'
import { useFeedback } from '../feedback/useFeedback'
import { counted, say } from '../words/say'

export interface BestQuestion {
  minutes: string
  days: string
  market: string
  wait: boolean
  /** Open orders that are due within the days must be met. */
  open: boolean
  orders: S['BestOrder'][]
}
const key = 'falda.best-use'
const usual: BestQuestion = { minutes: '240', days: '7', market: '', wait: true, open: true, orders: [] }
/** Picked for a piece that is not cut today. */
export const notToday = ''
const typingTakes = 500

export function useBestUse() {
  const queries = useQueryClient()
  const { busy, problem, attempt } = useAttempt()
  const { done } = useFeedback()
  const form = reactive<BestQuestion>({
    ...usual,
    ...(JSON.parse(localStorage.getItem(key) ?? '{}') as Partial<BestQuestion>),
  })
  const pins = reactive(new Map<string, string>())
  /** Pieces that are not cut today, with what they are called. */
  const left = reactive(new Map<string, string>())
  const found = ref<S['BestUseView']>()
  const body = computed<S['BestUseAsk']>(() => ({
    days: Math.round(typedNumber(form.days)),
    wait: form.wait,
    open_orders: form.open,
    ...(form.minutes.trim() && { minutes: form.minutes.trim() }),
    ...(form.market && { market: form.market }),
    orders: form.orders.filter((o) => o.product_key && o.weight.trim()),
    leave: [...left.keys()],
    pins: [...pins].map(([piece_id, plan_id]) => ({ piece_id, plan_id })),
  }))
  const asked = ref<S['BestUseAsk']>({})
  let timer: ReturnType<typeof setTimeout> | undefined
  const solve = () =>
    attempt(async () => {
      clearTimeout(timer)
      const ask = body.value
      const answer = await data(POST('/best-use', { body: ask }))
      if (ask !== body.value) return // something was changed meanwhile; that is asked next
      asked.value = ask
      found.value = answer
    })
  watch(body, () => {
    clearTimeout(timer)
    timer = setTimeout(() => void solve(), typingTakes)
  })
  watch(form, () => localStorage.setItem(key, JSON.stringify(form)), { deep: true })

  /** Settles the plan of a piece, or leaves it for another day. */
  function settle(p: S['BestUsePiece'], plan: string) {
    if (plan !== notToday) pins.set(p.piece.id, plan)
    else {
      pins.delete(p.piece.id)
      left.set(p.piece.id, `${p.piece.name} ${p.piece.lot_number} / ${p.piece.number}`)
    }
  }
  const takes = computed(() => found.value?.pieces.filter((p) => p.plan_id && p.plan_id !== p.piece.plan_id) ?? [])
  const planned = ref(0)
  const take = () =>
    attempt(async () => {
      planned.value = 0
      for (const p of takes.value) {
        await data(
          PUT('/pieces/{piece_id}/plan', {
            params: { path: { piece_id: p.piece.id } },
            body: { plan_id: p.plan_id, version: p.piece.version },
          }),
        )
        planned.value++
      }
      done(say`${counted(planned.value, 'piece')} planned.`)
      await queries.invalidateQueries({ queryKey: keyOf('pieces') })
      found.value = await data(POST('/best-use', { body: body.value }))
    })
  return { form, pins, left, found, asked, busy, problem, solve, settle, takes, take, planned }
}
