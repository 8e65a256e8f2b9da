/** A time in the words of this screen's clock: "25 Nov, 14:02"; with the year where it is another. */
export function moment(iso: string): string {
  const at = new Date(iso)
  const year = at.getFullYear() === new Date().getFullYear() ? undefined : ('numeric' as const)
  return new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year, hour: '2-digit', minute: '2-digit' }).format(at)
}
