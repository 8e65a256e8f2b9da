/** The time zones this browser knows, UTC and a given one among them. */
export function timeZones(also = ''): string[] {
  const known = Intl.supportedValuesOf('timeZone')
  return [...new Set(['UTC', ...(also ? [also] : []), ...known])].sort()
}

/** The time zone that this device is set to. */
export function zoneHere(): string {
  return Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC'
}
