// How orders are said.
import { clockOf, plainDay, today } from '../words/shown'
import type { Order } from './useOrders'

/** When it is due: "today 14:00", "28 Nov 14:00". */
export const dueText = (o: Pick<Order, 'day' | 'due_at'>) =>
  `${o.day === today() ? 'today' : plainDay(o.day)} ${clockOf(o.due_at)}`

export const stateNames: Record<Order['state'], string> = {
  open: 'open',
  gone: 'handed over',
  cancelled: 'cancelled',
}

/** What is in it, in a few words. */
export function whatText(o: Order): string {
  if (o.whole) return o.whole.name
  const names = o.lines.map((l) => l.name)
  return names.slice(0, 3).join(', ') + (names.length > 3 ? ` and ${names.length - 3} more` : '')
}
