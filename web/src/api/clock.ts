// The time as the server has it. Screens whose clocks are wrong still book the right minutes: every answer tells the
// server's time, and what a screen books goes by that. Without a network the last known difference holds.
const key = 'falda.clock'
const small = 2000 // ms; an answer's time is in whole seconds, so less is no difference

function kept(): number {
  try {
    return Number(localStorage.getItem(key)) || 0
  } catch {
    return 0
  }
}
let ahead = kept() // ms by which the server's clock is ahead of this one

/** Learns from the time that an answer was sent with. */
export function learn(date: string | null, now = Date.now()): void {
  const sent = Date.parse(date ?? '')
  if (Number.isNaN(sent)) return
  const found = sent + 500 - now
  const next = Math.abs(found) < small ? 0 : found
  if (Math.abs(next - ahead) < small) return
  ahead = next
  try {
    localStorage.setItem(key, String(next))
  } catch {
    /* a browser without storage learns it anew */
  }
}

/** A moment of this screen's clock by the server's. */
export const onServer = (at = new Date()): Date => new Date(at.getTime() + ahead)
