// A day as it is typed, and as it is asked for.
import type { S } from '../api/client'
import type { Day } from './useDay'

export interface PostForm {
  bench_id: string
  cutter_id: string
  from: string
  to: string
  /** A pause; empty for none. */
  pause: string
  back: string
}
export interface DayForm {
  posts: PostForm[]
  rules: { clean: string; clean_saw: string; wash: string }
}

export const formOf = (d: Day): DayForm => ({
  posts: d.posts.map((p) => ({
    bench_id: p.bench_id,
    cutter_id: p.cutter_id ?? '',
    from: p.from,
    to: p.to,
    pause: p.pauses[0]?.from ?? '',
    back: p.pauses[0]?.to ?? '',
  })),
  rules: { clean: String(d.rules.clean), clean_saw: String(d.rules.clean_saw), wash: String(d.rules.wash) },
})

/** A whole number as typed; −1, which is refused with words of its own, for what is none. */
const whole = (text: string) => (/^\s*\d{1,4}\s*$/.test(text) ? Number(text) : -1)

export const askOf = (f: DayForm, more: Partial<S['DayAsk']>): S['DayAsk'] => ({
  posts: f.posts.map((p) => ({
    bench_id: p.bench_id,
    ...(p.cutter_id && { cutter_id: p.cutter_id }),
    from: p.from.trim(),
    to: p.to.trim(),
    pauses: p.pause.trim() ? [{ from: p.pause.trim(), to: p.back.trim() }] : [],
  })),
  rules: { clean: whole(f.rules.clean), clean_saw: whole(f.rules.clean_saw), wash: whole(f.rules.wash) },
  ...more,
})

/** Who stands where, in a line. */
export const postsText = (f: DayForm, names: (id: string) => string) =>
  f.posts.map((p) => [names(p.bench_id), names(p.cutter_id), `${p.from}–${p.to}`].filter(Boolean).join(' ')).join('; ')
