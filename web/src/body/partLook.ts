import type { S } from '../api/client'

/** How a part is filled wherever the inside of a piece is drawn: a muscle by how tender it is, the rest by its kind. */
export function lookOf(p: S['BodyPart'] | undefined): string {
  if (p?.kind !== 'muscle') return p?.kind ?? 'waste'
  return p.tenderness <= 2 ? 'below' : `t${p.tenderness}`
}

/** The page's colour for a look. */
export const colourOf: Record<string, string> = {
  below: '--g-below',
  t3: '--g-3',
  t4: '--g-4',
  t5: '--g-5',
  fat: '--fat',
  bone: '--bone',
  waste: '--ground',
  trim: '--ghost',
}
