// What eaters mark, with the words at the two ends of each line.
import { say } from '../words/say'
export const attributes = [
  { id: 'tenderness', name: say('How tender?'), low: say('tough'), high: say('tender') },
  { id: 'juiciness', name: say('How juicy?'), low: say('dry'), high: say('juicy') },
  { id: 'flavour', name: say('The flavour?'), low: say('bad'), high: say('good') },
  { id: 'overall', name: say('All in all?'), low: say('bad'), high: say('good') },
] as const
export type Attribute = (typeof attributes)[number]['id']
