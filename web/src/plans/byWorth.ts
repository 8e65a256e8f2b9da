// The order in which ways of cutting stand beside each other.
import type { S } from '../api/client'

/** The first, with which the others are compared, and then what pays best. */
export function byWorth(ways: S['PlanForecast'][]): S['PlanForecast'][] {
  const worth = (w: S['PlanForecast']) => Number(w.totals.value)
  return [...ways.slice(0, 1), ...ways.slice(1).sort((a, b) => worth(b) - worth(a))]
}
