import type { S } from '../api/client'
import { say } from '../words/say'

export const grades: S['Grade'][] = ['5', '4', '3', 'below_3']

export function gradeName(g: S['Grade']): string {
  return g === 'below_3' ? say('below 3') : say`grade ${g}`
}
