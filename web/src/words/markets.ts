// The markets whose names the atlas knows.
import { say } from './say'
const names: Record<string, string> = {
  house: say('our own names'),
  us: say('United States'),
  uk: say('United Kingdom'),
  ie: say('Ireland'),
  au: say('Australia'),
  nz: say('New Zealand'),
  fr: say('France'),
  de: say('Germany'),
  br: say('Brazil'),
  ar: say('Argentina'),
  za: say('South Africa'),
  es: say('Spain'),
  it: say('Italy'),
  ca: say('Canada'),
}
export const marketName = (m: string) => names[m] ?? m

/** What kind of name something was found by: a market by its name in the place of its letters. */
export const foundBy = (why: string) =>
  why.replace(/^name in (\w+)$/, (_, m: string) => say`trade name, ${marketName(m)}`)

/** The market that the browser's language speaks of, of those that there are; the first where it speaks of none. */
export function marketHere(markets: string[]): string {
  const region = navigator.language.split('-')[1]?.toLowerCase() ?? ''
  const code = region === 'gb' ? 'uk' : region
  return markets.includes(code)
    ? code
    : (markets.find((m) => navigator.language.startsWith(m)) ?? markets[0] ?? 'house')
}
