// The markets whose names the atlas knows.
const names: Record<string, string> = {
  house: 'our own names',
  us: 'United States',
  uk: 'United Kingdom',
  ie: 'Ireland',
  au: 'Australia',
  nz: 'New Zealand',
  fr: 'France',
  de: 'Germany',
  br: 'Brazil',
  ar: 'Argentina',
  za: 'South Africa',
  es: 'Spain',
  it: 'Italy',
  ca: 'Canada',
}
export const marketName = (m: string) => names[m] ?? m

/** The market that the browser's language speaks of, of those that there are; the first where it speaks of none. */
export function marketHere(markets: string[]): string {
  const region = navigator.language.split('-')[1]?.toLowerCase() ?? ''
  const code = region === 'gb' ? 'uk' : region
  return markets.includes(code)
    ? code
    : (markets.find((m) => navigator.language.startsWith(m)) ?? markets[0] ?? 'house')
}
