import type { S } from '../api/client'

export const grades: S['Grade'][] = ['5', '4', '3', 'below_3']

export function gradeName(g: S['Grade']): string {
  return g === 'below_3' ? 'below 3' : `grade ${g}`
}
