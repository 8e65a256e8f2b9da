// The geometry of the bridge: bars that hang where the last one ended, from the other way's value to this one's.
import { shortName } from '../../words/shown'
import type { S } from '../../api/client'
import { say } from '../../words/say'

export interface Bar {
  id: string
  name: string
  kind: S['BridgeStep']['kind'] | 'total'
  from: number
  to: number
  change: number
}

/**
 * As many steps as can be read beside each other; the smallest beyond them are one step, which the list below takes
 * apart.
 */
const most = 11

function readable(steps: S['BridgeStep'][]): S['BridgeStep'][] {
  const moving = steps.filter((s) => Number(s.change) !== 0)
  if (moving.length <= most) return moving
  const bySize = [...moving].sort((a, b) => Math.abs(Number(b.change)) - Math.abs(Number(a.change)))
  const kept = new Set(bySize.slice(0, most - 1))
  const small = moving.filter((s) => !kept.has(s))
  const rest = {
    ...small[0]!,
    id: 'rest',
    name: say`${small.length} small ones`,
    change: small.reduce((sum, s) => sum + Number(s.change), 0).toFixed(2),
  }
  const out = moving.filter((s) => kept.has(s))
  const labour = out.findIndex((s) => s.kind === 'labour' || s.kind === 'packaging')
  out.splice(labour < 0 ? out.length : labour, 0, rest)
  return out
}

/** Bars in the order of the steps; steps that move nothing are left out. */
export function bars(steps: S['BridgeStep'][], start: number, end: number, names: [string, string]): Bar[] {
  const out: Bar[] = [{ id: 'start', name: names[0], kind: 'total', from: 0, to: start, change: start }]
  let at = start
  for (const s of readable(steps)) {
    const change = Number(s.change)
    out.push({ id: s.id, name: shortName(s.name), kind: s.kind, from: at, to: at + change, change })
    at += change
  }
  out.push({ id: 'end', name: names[1], kind: 'total', from: 0, to: end, change: end })
  return out
}

/** Lowest and highest value to be drawn. The totals are cut off below where all bars lie far above zero, and say so. */
export function extent(all: Bar[]): { low: number; high: number; cut: boolean } {
  const values = all.flatMap((b) => (b.kind === 'total' ? [b.to] : [b.from, b.to]))
  const [min, max] = [Math.min(...values), Math.max(...values)]
  const span = max - min || 1
  const cut = min > span * 1.5
  const low = cut ? min - span * 0.35 : Math.min(0, min - (min < 0 ? span * 0.12 : 0))
  return { low, high: Math.max(max, 0) + span * 0.16, cut }
}

/** Values for an axis: three to six round ones, a 1, 2 or 5 apart, within its ends. */
export function ticks(low: number, high: number): number[] {
  const rough = (high - low) / 4
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 5, 10].map((n) => n * power).find((n) => n >= rough)!
  const out: number[] = []
  for (let v = Math.ceil(low / step) * step; v <= high; v += step) out.push(Number(v.toPrecision(12)))
  return out
}
