// How names, numbers, money, days and times are shown: the one place that knows a language's ways with them.
import { ref } from 'vue'
import { onServer } from '../api/clock'
import { language } from './language'

/** How days and times are written, and how money is. */
const dayLocale = language === 'en' ? 'en-GB' : language
const moneyLocale = 'en'

/** The shop's time zone; this screen's own until the shop is known. */
export const shopZone = ref<string>()

/** A time by the shop's clock: "25 Nov, 14:02"; with the year where it is another. */
export function moment(iso: string): string {
  const at = new Date(iso)
  const year = today(at).slice(0, 4) === today().slice(0, 4) ? undefined : ('numeric' as const)
  return new Intl.DateTimeFormat(dayLocale, {
    day: 'numeric',
    month: 'short',
    year,
    hour: '2-digit',
    minute: '2-digit',
    timeZone: shopZone.value,
  }).format(at)
}

/** The calendar day of a moment, or of now, by the shop's clock: "2026-11-25". */
export function today(at = onServer()): string {
  const parts = new Intl.DateTimeFormat('en-GB', {
    year: 'numeric',
    month: '2-digit',
    day: '2-digit',
    timeZone: shopZone.value,
  }).formatToParts(at)
  const part = (type: string) => parts.find((p) => p.type === type)?.value ?? ''
  return `${part('year')}-${part('month')}-${part('day')}`
}

const inZone = (iso: string, how: Intl.DateTimeFormatOptions) =>
  new Intl.DateTimeFormat(dayLocale, { ...how, timeZone: shopZone.value }).format(new Date(iso))

/** The hour of a moment by the shop's clock: "14:02". */
export const clockOf = (iso: string) => inZone(iso, { hour: '2-digit', minute: '2-digit' })

/** The day of a moment by the shop's clock, in words: "Wednesday 25 November 2026". */
export const dayOf = (iso: string) => inZone(iso, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' })

/** A name without what the atlas explains in brackets. */
export function shortName(name: string): string {
  return name.replace(/ \(.*/, '')
}

/** A figure with the minus sign of print, and none before nothing. */
export function minus(s: string): string {
  return /^-0(\.0*)?$/.test(s) ? s.slice(1) : s.replace('-', '−')
}

/** A figure in percent. */
export function percent(n: number, places = 1): string {
  return `${minus(n.toFixed(places))}\u00a0%`
}

/** So many days away a day without its year may be taken for another. */
const yearApart = 300

/** A calendar day: "16 Nov"; with its year, "24 Nov 2025", where that could be doubted. */
export function plainDay(iso: string): string {
  const day = new Date(`${iso}T00:00:00Z`)
  const far = Math.abs(day.getTime() - Date.now()) > yearApart * 86_400_000
  return new Intl.DateTimeFormat(dayLocale, {
    day: 'numeric',
    month: 'short',
    timeZone: 'UTC',
    ...(far && { year: 'numeric' }),
  }).format(day)
}

/** An amount with its currency: "€1,349.68", "−€0.40"; with a plus where a sign is asked for. */
export function moneyText(amount: number, currency: string, decimals: number, sign = false): string {
  const text = new Intl.NumberFormat(moneyLocale, {
    style: 'currency',
    currency,
    minimumFractionDigits: decimals,
    maximumFractionDigits: decimals,
  }).format(Math.abs(amount))
  const zero = !/[1-9]/.test(text)
  return (amount < 0 && !zero ? '−' : sign && !zero ? '+' : '') + text
}

/** The hour of a moment by this screen's clock, where no shop is known: "19:00". */
export const clockHere = (at: string | Date) =>
  new Intl.DateTimeFormat(dayLocale, { hour: '2-digit', minute: '2-digit' }).format(new Date(at))
