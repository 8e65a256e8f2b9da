import { speciesName } from './species'

/** A piece of the atlas with its species before it, as long lists of pieces show it. */
export const pieceName = (p: { species: string; house_name: string }): string =>
  `${speciesName(p.species)}: ${p.house_name}`
