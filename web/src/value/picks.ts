// The sides of a comparison as they are picked: kept in the address, so that a comparison can be kept, sent and gone
// back to.
import type { S } from '../api/client'

export type Pick = S['AlternativePick']

export function toAddress(p: Pick): string {
  return Object.entries(p)
    .filter(([, v]) => typeof v === 'string' && v !== '')
    .map(([k, v]) => `${short[k] ?? k}:${encodeURIComponent(String(v))}`)
    .join('~')
}

const short: Record<string, string> = {
  kind: 'k',
  atlas_id: 'a',
  plan_id: 'p',
  breakdown_id: 'b',
  supplier: 's',
  cutter: 'c',
  from: 'f',
  to: 't',
  weight: 'w',
  weight_unit: 'u',
}
const long = Object.fromEntries(Object.entries(short).map(([k, v]) => [v, k]))

export function fromAddress(text: string): Pick | undefined {
  const out: Record<string, string> = {}
  for (const part of text.split('~')) {
    const at = part.indexOf(':')
    const key = long[part.slice(0, at)]
    if (key) out[key] = decodeURIComponent(part.slice(at + 1))
  }
  return out.kind === 'plan' || out.kind === 'piece' || out.kind === 'group' ? (out as unknown as Pick) : undefined
}
