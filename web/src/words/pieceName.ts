/** A piece of the atlas with its species before it, as long lists of pieces show it. */
export const pieceName = (p: { species: string; house_name: string }): string =>
  `${p.species === 'lamb' ? 'Lamb' : 'Beef'}: ${p.house_name}`
