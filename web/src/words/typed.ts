import { plainDay, today as dayByShop } from './shown'

// What an experienced hand types into a field, and what it means.

/** "14.5 lb", "6600g", "6,6": the number, and the unit where one was typed. */
export function typedMass(text: string): { number: string; unit?: 'kg' | 'lb' | 'g' } {
  const m = /^\s*([+-]?[\d.,]*)\s*(kg|kilo|kilos|k|lb|lbs|pound|pounds|g|grams?)?\s*$/i.exec(text)
  if (!m) return { number: text.trim() }
  const word = (m[2] ?? '').toLowerCase()
  const unit = word.startsWith('k')
    ? 'kg'
    : word.startsWith('l') || word.startsWith('p')
      ? 'lb'
      : word.startsWith('g')
        ? 'g'
        : undefined
  return { number: m[1] ?? '', unit }
}

/** A whole number as typed; 0, which no form takes, for anything else. */
export function typedCount(text: string): number {
  return /^\s*\d{1,6}\s*$/.test(text) ? Number(text) : 0
}

const halfYear = 183 * 24 * 3600 * 1000 // in milliseconds

/**
 * A day as ISO text: "2026-11-16", "16.11.", "16/11", "16 11 26", "-9" for nine days ago, or "+2" for the day after
 * tomorrow. Without a year it is the nearest such day. Other text stays as it is.
 */
export function typedDay(text: string, today = dayHere()): string {
  const t = text.trim()
  if (t === '') return ''
  const away = /^([-−+])\s*(\d{1,3})$/.exec(t)
  if (away) {
    const days = Number(away[2]) * (away[1] === '+' ? 1 : -1)
    return iso(new Date(today.getFullYear(), today.getMonth(), today.getDate() + days))
  }
  if (t === '0') return iso(today)
  const parts = /^(\d{1,2})[./ -](\d{1,2})[./ -]?(\d{2}|\d{4})?$/.exec(t)
  if (!parts) return t
  const [day, month] = [Number(parts[1]), Number(parts[2])]
  let year = parts[3] ? Number(parts[3]) : today.getFullYear()
  if (year < 100) year += 2000
  const d = new Date(year, month - 1, day)
  if (!parts[3]) d.setFullYear(year + Math.sign(Math.trunc((today.getTime() - d.getTime()) / halfYear)))
  return d.getMonth() === month - 1 && d.getDate() === day ? iso(d) : t
}

/** What a typed day means, in words; the example where it is none yet. */
export function dayHint(text: string, example: string): string {
  const d = typedDay(text)
  return isDay(d) ? plainDay(d) : example
}

/** A typed day as ISO text, or the text itself where it is none, for the server to say so. */
export function dayOr(text: string): string {
  const d = typedDay(text)
  return isDay(d) ? d : text.trim()
}

/** Midday of the shop's calendar day, on this screen's clock. */
function dayHere(): Date {
  return new Date(`${dayByShop()}T12:00:00`)
}

function iso(d: Date): string {
  const two = (n: number) => String(n).padStart(2, '0')
  return `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`
}

export function isDay(s: string): boolean {
  return /^\d{4}-\d{2}-\d{2}$/.test(s)
}

/** A number as people type it; −1, which every field refuses with words of its own, for what is none. */
export function typedNumber(text: string): number {
  const n = Number(text.trim().replace(',', '.').replace(/^−/, '-'))
  return text.trim() !== '' && Number.isFinite(n) ? n : -1
}
