// What the species of pieces are called.
import { say } from './say'
export const speciesNames: Record<string, string> = { beef: say('Beef'), lamb: say('Lamb'), deer: say('Game') }

/** A species in words; one that a shop's own atlas adds goes by its id. */
export const speciesName = (id: string): string => speciesNames[id] ?? `${id.charAt(0).toUpperCase()}${id.slice(1)}`

/** All, and each species that occurs, with their names: the choices of a filter. */
export function speciesChoices(occur: string[]): { ids: string[]; names: Record<string, string> } {
  const ids = [...new Set(occur)]
  return {
    ids: ['all', ...ids],
    names: { all: say('All'), ...Object.fromEntries(ids.map((id) => [id, speciesName(id)])) },
  }
}
