import { ref } from 'vue'
import { onServer } from '../api/clock'

/** The shop's time zone; this screen's own until the shop is known. */
export const shopZone = ref<string>()

/** A time by the shop's clock: "25 Nov, 14:02"; with the year where it is another. */
export function moment(iso: string): string {
  const at = new Date(iso)
  const year = today(at).slice(0, 4) === today().slice(0, 4) ? undefined : ('numeric' as const)
  return new Intl.DateTimeFormat('en-GB', {
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
  new Intl.DateTimeFormat('en-GB', { ...how, timeZone: shopZone.value }).format(new Date(iso))

/** The hour of a moment by the shop's clock: "14:02". */
export const clockOf = (iso: string) => inZone(iso, { hour: '2-digit', minute: '2-digit' })

/** The day of a moment by the shop's clock, in words: "Wednesday 25 November 2026". */
export const dayOf = (iso: string) => inZone(iso, { weekday: 'long', day: 'numeric', month: 'long', year: 'numeric' })
