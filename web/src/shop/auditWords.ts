// The actions of the audit in words.
import type { S } from '../api/client'

type Row = S['AuditRow']

const said: Record<string, string> = {
  'session.began': 'signed in',
  'session.ended': 'went out',
  'session.refused': 'was not let in',
  'session.ended_everywhere': 'signed out everywhere',
  'password.changed': 'changed their password',
  'password.link': 'made a link for a password',
  'pin.set': 'set a PIN',
  'pin.taken': 'took a PIN away',
  'person.added': 'added somebody',
  'person.changed': 'changed somebody',
  'shop.example': 'made an example shop',
  'shop.example_removed': 'removed the example shop',
  'scale.checked': 'checked a scale',
  'person.unnamed': 'replaced the name of somebody who left',
  'shop.set': 'set the shop',
  'shop.added': 'added a shop',
  'bench.added': 'added a bench',
  'bench.changed': 'changed a bench',
  'bench.code': 'made a code for a bench',
  'bench.enrolled': 'enrolled a screen',
  'bench.revoked': 'took a screen off',
  'token.made': 'made a token',
  'token.revoked': 'revoked a token',
  'stock.begun': 'began the stock',
  'fat_test.added': 'entered a fat test',
  'fat_test.dropped': 'took a fat test away',
  'recipe.added': 'added a recipe',
  'recipe.changed': 'changed a recipe',
  'batch.made': 'made a batch',
  'batch.reopened': 'opened a batch again',
  'batch.dropped': 'took a batch away',
  'trim_value.set': 'changed how trim is valued',
  'price.set': 'set a price',
  'practice.set': 'made a practice piece',
  'practice.ended': 'made it an ordinary piece again',
  'step.signed': 'signed off a step',
  'step.practise': 'said what to practise',
  'note.added': 'noted something',
  'note.removed': 'took a note away',
  'note.picture': 'put a picture to a note',
  'menu_name.set': 'named a product',
  'prices.guessed': 'had prices guessed',
  'prices.guesses_dropped': 'took the guessed prices back',
  'market.added': 'added a market',
  'market.changed': 'changed a market',
  'quote.set': 'set a price of a market',
  'quote.dropped': 'took a price of a market out',
  'demand.set': 'set a demand',
  'demand.dropped': 'took a demand out',
  'report.shared': 'shared a report',
  'report.unshared': 'ended a shared report',
  'lot.received': 'received a lot',
  'lot.changed': 'corrected a lot',
  'lot.voided': 'voided a lot',
  'lot.restored': 'took the voiding of a lot back',
  'piece.voided': 'voided a piece',
  'piece.restored': 'took the voiding of a piece back',
  'carcass.broken': 'broke a carcass',
  'breakdown.handed_over': 'handed a piece to another bench',
  'product.cut_again': 'hung a product on the rail to be cut again',
  'piece.parted': 'hung the blocks of a piece on the rail',
  'plan.chosen': 'chose a plan',
  'plan.made': 'made a way to cut',
  'plan.changed': 'changed a way to cut',
  'ingredient.made': 'added an ingredient',
  'ingredient.changed': 'changed an ingredient',
  'plan.retired': 'retired a way to cut',
  'breakdown.started': 'put a piece on a bench',
  'breakdown.imported': 'took a breakdown in',
  'method.chosen': 'chose a method',
  'judgement.confirmed': 'let the methods stand',
  'bench.opened': 'weighed the piece',
  'bench.seamed_off': 'seamed off',
  'bench.trimmed': 'trimmed',
  'bench.portioned': 'portioned',
  'bench.discarded': 'discarded',
  'bench.weighed_again': 'weighed again',
  'bench.undone': 'undid a weighing',
  'bench.noted': 'noted',
  'bench.paused': 'paused',
  'bench.resumed': 'went on',
  'bench.closed': 'finished',
  'bench.inspected': 'looked it over',
  'bench.moved': 'moved a weight',
  'bench.reopened': 'opened it again',
  'bench.parted': 'took off a block',
  'bench.tubbed': 'weighed a tub',
  'bench.ingredient_added': 'put an ingredient in',
  'bench.joined': 'laid a block into another',
  'bench.ticked': 'did a step',
  'bench.skipped': 'left a step out',
  'bench.measured': 'took the temperature',
  'batch.started': 'put pieces on a bench together',
  'trial.designed': 'designed a trial',
  'trial.changed': 'changed a trial',
  'tasting.planned': 'planned a tasting',
  'tasting.changed': 'changed a tasting',
  'tasting.entered': 'typed sheets in',
  'tasting.cores': 'entered shear force',
  'eating.set': 'set how grades are made',
  'grades.given': 'read given scores in',
}
export const actionWords = (action: string) => said[action] ?? action

/** The kinds one can filter by. */
export const kinds = [
  { id: '-session', name: 'Everything but coming and going' },
  { id: 'session', name: 'Coming and going' },
  { id: 'password', name: 'Passwords' },
  { id: 'pin', name: 'PINs' },
  { id: 'person', name: 'People' },
  { id: 'shop', name: 'The shop' },
  { id: 'bench', name: 'At the benches' },
  { id: 'scale', name: 'Checks of scales' },
  { id: 'token', name: 'Tokens' },
  { id: 'price', name: 'Prices' },
  { id: 'lot', name: 'Lots' },
  { id: 'piece', name: 'Pieces' },
  { id: 'carcass', name: 'Carcasses' },
  { id: 'plan', name: 'Plans' },
  { id: 'breakdown', name: 'Pieces put on a bench' },
  { id: 'batch', name: 'Pieces cut together' },
  { id: 'tasting', name: 'Tastings' },
  { id: 'trial', name: 'Trials' },
  { id: 'eating', name: 'How grades are made' },
  { id: 'grades', name: 'Given scores' },
  { id: 'method', name: 'Methods' },
  { id: 'judgement', name: 'Judgements' },
]

function value(v: unknown): string {
  if (v === true) return 'yes'
  if (v === false) return 'no'
  if (Array.isArray(v)) return v.join(', ')
  if (v !== null && typeof v === 'object')
    return 'products' in v
      ? `${(v as { products: unknown[] }).products.length} products`
      : Object.entries(v)
          .map(([k, x]) => `${plain(k)} ${value(x)}`)
          .join(', ')
  return String(v).replace(/^(-?\d+\.\d\d)00$/, '$1') // amounts are kept with four decimals
}
const plain = (key: string) => key.replace(/_g$/, ' (g)').replace(/_pct$/, ' (%)').replaceAll('_', ' ')

/** What changed, one line for each thing: what it was and what it became. */
export function changes(r: Row): { what: string; was: string; became: string }[] {
  const was = (r.was ?? {}) as Record<string, unknown>
  const became = (r.became ?? {}) as Record<string, unknown>
  const keys = [...new Set([...Object.keys(was), ...Object.keys(became)])]
  return keys
    .filter((k) => JSON.stringify(was[k]) !== JSON.stringify(became[k]))
    .map((k) => ({ what: plain(k), was: k in was ? value(was[k]) : '', became: k in became ? value(became[k]) : '' }))
}
