// How orders are said.
import { clockOf, plainDay, today } from '../words/shown'
import type { Order } from './useOrders'
import { say } from '../words/say'

/** When it is due: "today 14:00", "28 Nov 14:00". */
export const dueText = (o: Pick<Order, 'day' | 'due_at'>) =>
  `${o.day === today() ? say('today') : plainDay(o.day)} ${clockOf(o.due_at)}`

export const stateNames: Record<Order['state'], string> = {
  open: say('open'),
  gone: say('handed over'),
  cancelled: say('cancelled'),
}

/** What is in it, in a few words. */
export function whatText(o: Order): string {
  if (o.whole) return o.whole.name
  const names = o.lines.map((l) => l.name)
  return names.slice(0, 3).join(', ') + (names.length > 3 ? say` and ${names.length - 3} more` : '')
}
