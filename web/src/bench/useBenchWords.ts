// What the plate of one piece's board says: what is booked next, and what is usual of it.
import { computed, type ComputedRef, type Ref } from 'vue'
import type { S } from '../api/client'
import { useShop } from '../shell/shop'
import { shortName } from '../words/shown'
import type { Usual } from './doubt'
import { muscleOf, type Inside, type InsideItem } from './useInside'
import { say } from '../words/say'

export interface Now {
  board: Ref<S['Board'] | undefined>
  looked: Ref<boolean>
  opened: Ref<boolean>
  closed: Ref<boolean>
  target: Ref<S['Expected'] | undefined>
  /** How often the target was weighed, with what waits. */
  times: Ref<number>
  inside: ComputedRef<Inside | undefined>
  insideTarget: Ref<InsideItem | undefined>
  againRow: Ref<S['BoardRow'] | undefined>
  left: Ref<number | undefined>
  /** The step that is to be done now and leaves nothing to weigh; none while a weight is there to be booked. */
  step: ComputedRef<S['SeamWords'] | undefined>
}

export function useBenchWords(now: Now) {
  const { bare, mass } = useShop()

  const what = computed(() => {
    const again = now.againRow.value
    if (now.closed.value) return say('Finished')
    if (!now.looked.value) return say('Check the piece')
    if (again) return say`${again.kind === 'opened' ? say('The whole piece') : shortName(again.name)}, again`
    if (now.inside.value && now.insideTarget.value) return shortName(now.insideTarget.value.name)
    if (!now.opened.value) return say('The whole piece')
    if (now.step.value) return now.step.value.name
    return now.target.value ? shortName(now.target.value.name) : say('Everything is weighed')
  })

  const hint = computed(() => {
    const [inside, item, t] = [now.inside.value, now.insideTarget.value, now.target.value]
    if (now.closed.value) return ''
    if (!now.looked.value) return say('Enter when that is done')
    if (now.againRow.value) return say`was ${mass(now.againRow.value.weight_g)}`
    if (inside && item) {
      const of = say`of ${inside.name.toLowerCase()}`
      return item.expected ? say`${of}, about ${mass(item.expected, 2)}` : of
    }
    if (!now.opened.value) return say`about ${mass(now.board.value?.piece.weight_g ?? 0, 2)} by its label`
    if (now.step.value)
      return say`Nothing to weigh: Enter when it is done.${t ? say` Then ${shortName(t.name).toLowerCase()}.` : ''}`
    if (!t) return say('Enter finishes')
    if (t.want > 1) return say`${now.times.value + 1} of ${t.want}, about ${mass(t.expected_g / t.want, 2)}`
    return say`about ${bare(t.expected_g, 2)} (${bare(t.low_g, 2)}–${mass(t.high_g, 2)})`
  })

  /** What is usual of what is booked next. */
  const usual = (): Usual => {
    const t = now.target.value
    if (now.againRow.value) return {}
    if (!now.opened.value) return { label: now.board.value?.piece.weight_g }
    if (now.inside.value) return { left: now.inside.value.weight - now.inside.value.output }
    if (!t) return { left: now.left.value }
    return { ...rangeOf(t, 1), left: now.left.value }
  }

  const insideNote = computed(() => {
    const [inside, i, b] = [now.inside.value, now.insideTarget.value, now.board.value]
    if (!inside || !i) return undefined
    const of = say`of ${inside.name.toLowerCase()}`
    const end = i.kind === 'end' ? b?.fixed?.words[muscleOf(inside.part)]?.ends.find((e) => e.id === i.id) : undefined
    if (end) return { name: `${end.name}, ${of}`, how: sentence(end.why) }
    const p = i.kind === 'product' ? b?.fixed?.plan.products.find((x) => x.id === i.id) : undefined
    const how = [
      p?.thickness_mm && say`${p.thickness_mm} mm thick`,
      p?.portion_g && say`${p.portion_g} g each`,
      p?.count_high &&
        say`${p.count_low === p.count_high ? p.count_high : `${p.count_low}–${p.count_high}`} from a piece`,
    ].filter(Boolean)
    return {
      name: `${i.name}, ${of}`,
      how: how.length
        ? sentence(how.join(', '))
        : say('What comes off the muscle when it is dressed; weights of the same kind add up.'),
    }
  })

  return { what, hint, usual, insideNote }
}

/** What is usual of one weighing, on so many pieces. Of what adds up, as trim does, there is only a most. */
export function rangeOf(t: S['Expected'], pieces: number): Pick<Usual, 'low' | 'high'> {
  const share = pieces / Math.max(1, t.want)
  if (t.kind !== 'muscle') return { low: 0, high: Math.max(0, t.high_g * (t.want > 1 ? share : 1) - t.taken_g) }
  return { low: t.low_g * share, high: t.high_g * share }
}

const sentence = (text: string) => `${text.charAt(0).toUpperCase()}${text.slice(1)}.`
