// What eaters mark, with the words at the two ends of each line.
export const attributes = [
  { id: 'tenderness', name: 'How tender?', low: 'tough', high: 'tender' },
  { id: 'juiciness', name: 'How juicy?', low: 'dry', high: 'juicy' },
  { id: 'flavour', name: 'The flavour?', low: 'bad', high: 'good' },
  { id: 'overall', name: 'All in all?', low: 'bad', high: 'good' },
] as const
export type Attribute = (typeof attributes)[number]['id']
