// A plan in steps while it is written: what a step may name, and what changes when one is added, moved or taken out.
import type { S } from '../../api/client'
import { say } from '../../words/say'

export type Step = S['PlanStep']
export type Field =
  | 'parts'
  | 'as'
  | 'rest'
  | 'takes'
  | 'gives'
  | 'joins'
  | 'into_blocks'
  | 'each_into'
  | 'mm'
  | 'portion_g'
  | 'by'
  | 'zone'
  | 'adds'
export type Draft = S['PlanDraft'] & { steps: Step[]; options: S['StepOption'][] }

/** The block that the work begins with. */
export const PIECE = 'piece'

/** An id made of a name, that none of these has. */
export function idOf(name: string, taken: Iterable<string>): string {
  const used = new Set(taken)
  const plain = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^[^a-z]+|_+$/g, '')
    .slice(0, 28)
  const base = plain || 'part'
  let id = base
  for (let n = 2; used.has(id); n++) id = `${base}_${n}`
  return id
}

/** Blocks that there are before a step, by the steps above it: id and name. */
export function blocksBefore(steps: Step[], at: number): { id: string; name: string }[] {
  const out = new Map([[PIECE, say('the piece')]])
  for (const s of steps.slice(0, at))
    for (const b of [...(s.as ?? []), ...(s.rest ? [s.rest] : [])])
      if (b.block) out.set(b.block, b.name || out.get(b.block) || b.block.replace(/_/g, ' '))
  return [...out].map(([id, name]) => ({ id, name }))
}

export const blockIds = (steps: Step[]) => [
  PIECE,
  ...steps.flatMap((s) => [...(s.as ?? []).map((b) => b.block), ...(s.rest ? [s.rest.block] : [])]),
]

/** A step that takes something off what is left of the piece. */
export const newStep = (steps: Step[]): Step => ({
  id: idOf(
    'step',
    steps.map((s) => s.id),
  ),
  do: 'take_off',
  parts: {},
})

/** Another kind of step keeps what both kinds have a use for. */
export function changeVerb(s: Step, verb: string, fields: string[]) {
  s.do = verb as Step['do']
  const own: Field[] = [
    'parts',
    'as',
    'rest',
    'takes',
    'gives',
    'joins',
    'into_blocks',
    'each_into',
    'mm',
    'portion_g',
    'by',
    'zone',
    'adds',
  ]
  for (const f of own) if (!fields.includes(f)) delete s[f]
}

/** A part is taken into the step, or out of it again; where the step dresses, it is dressed. */
export function togglePart(s: Step, fields: string[], part: string, there: number) {
  if (fields.includes('takes')) {
    const rows = s.takes ?? []
    s.takes = rows.some((t) => t.part === part)
      ? rows.filter((t) => t.part !== part)
      : [...rows, { part, pct: Math.min(5, there || 5), to: 'discard' }]
    return
  }
  if (!fields.includes('parts')) return
  const parts = { ...s.parts }
  if (parts[part] === undefined) parts[part] = there || 100
  else delete parts[part]
  s.parts = parts
}

/** Moves a step up or down; steps that named it as to be done first no longer do where it stands after them. */
export function move(steps: Step[], at: number, by: number) {
  const to = at + by
  if (to < 0 || to >= steps.length) return at
  const [one] = steps.splice(at, 1)
  steps.splice(to, 0, one!)
  const before = new Set<string>()
  for (const s of steps) {
    if (s.after) s.after = s.after.filter((id) => before.has(id))
    before.add(s.id)
  }
  return to
}

export function remove(steps: Step[], at: number) {
  const [gone] = steps.splice(at, 1)
  for (const s of steps) if (s.after) s.after = s.after.filter((id) => id !== gone!.id)
}

/** What is nothing is left out of what is sent. */
export function tidy<T>(v: T): T {
  if (Array.isArray(v)) return v.map(tidy) as T
  if (v && typeof v === 'object')
    return Object.fromEntries(
      Object.entries(v)
        .map(([k, x]) => [k, tidy(x)] as const)
        .filter(([, x]) => x !== undefined && x !== '' && !(Array.isArray(x) && !x.length)),
    ) as T
  return v
}
