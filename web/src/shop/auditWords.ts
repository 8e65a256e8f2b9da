// The actions of the audit in words.
import type { S } from '../api/client'
import { say } from '../words/say'

type Row = S['AuditRow']

const said: Record<string, string> = {
  'session.began': say('signed in'),
  'session.ended': say('went out'),
  'session.refused': say('was not let in'),
  'session.ended_everywhere': say('signed out everywhere'),
  'password.changed': say('changed their password'),
  'password.link': say('made a link for a password'),
  'pin.set': say('set a PIN'),
  'pin.taken': say('took a PIN away'),
  'person.added': say('added somebody'),
  'person.changed': say('changed somebody'),
  'shop.example': say('made an example shop'),
  'shop.example_removed': say('removed the example shop'),
  'scale.checked': say('checked a scale'),
  'person.unnamed': say('replaced the name of somebody who left'),
  'shop.set': say('set the shop'),
  'shop.added': say('added a shop'),
  'bench.added': say('added a bench'),
  'bench.changed': say('changed a bench'),
  'bench.code': say('made a code for a bench'),
  'bench.enrolled': say('enrolled a screen'),
  'bench.revoked': say('took a screen off'),
  'token.made': say('made a token'),
  'token.revoked': say('revoked a token'),
  'stock.begun': say('began the stock'),
  'fat_test.added': say('entered a fat test'),
  'fat_test.dropped': say('took a fat test away'),
  'recipe.added': say('added a recipe'),
  'recipe.changed': say('changed a recipe'),
  'batch.made': say('made a batch'),
  'batch.reopened': say('opened a batch again'),
  'batch.dropped': say('took a batch away'),
  'trim_value.set': say('changed how trim is valued'),
  'price.set': say('set a price'),
  'practice.set': say('made a practice piece'),
  'practice.ended': say('made it an ordinary piece again'),
  'step.signed': say('signed off a step'),
  'step.practise': say('said what to practise'),
  'note.added': say('noted something'),
  'note.removed': say('took a note away'),
  'note.picture': say('put a picture to a note'),
  'menu_name.set': say('named a product'),
  'prices.guessed': say('had prices guessed'),
  'prices.guesses_dropped': say('took the guessed prices back'),
  'market.added': say('added a market'),
  'market.changed': say('changed a market'),
  'quote.set': say('set a price of a market'),
  'quote.dropped': say('took a price of a market out'),
  'demand.set': say('set a demand'),
  'demand.dropped': say('took a demand out'),
  'report.shared': say('shared a report'),
  'report.unshared': say('ended a shared report'),
  'lot.received': say('received a lot'),
  'lot.changed': say('corrected a lot'),
  'lot.voided': say('voided a lot'),
  'lot.restored': say('took the voiding of a lot back'),
  'piece.voided': say('voided a piece'),
  'piece.restored': say('took the voiding of a piece back'),
  'carcass.broken': say('broke a carcass'),
  'breakdown.handed_over': say('handed a piece to another bench'),
  'product.cut_again': say('hung a product on the rail to be cut again'),
  'piece.parted': say('hung the blocks of a piece on the rail'),
  'plan.chosen': say('chose a plan'),
  'plan.made': say('made a way to cut'),
  'plan.changed': say('changed a way to cut'),
  'ingredient.made': say('added an ingredient'),
  'ingredient.changed': say('changed an ingredient'),
  'plan.retired': say('retired a way to cut'),
  'breakdown.started': say('put a piece on a bench'),
  'breakdown.imported': say('took a breakdown in'),
  'method.chosen': say('chose a method'),
  'judgement.confirmed': say('let the methods stand'),
  'bench.opened': say('weighed the piece'),
  'bench.seamed_off': say('seamed off'),
  'bench.trimmed': say('trimmed'),
  'bench.portioned': say('portioned'),
  'bench.discarded': say('discarded'),
  'bench.weighed_again': say('weighed again'),
  'bench.undone': say('undid a weighing'),
  'bench.noted': say('noted'),
  'bench.paused': say('paused'),
  'bench.resumed': say('went on'),
  'bench.closed': say('finished'),
  'bench.inspected': say('looked it over'),
  'bench.moved': say('moved a weight'),
  'bench.reopened': say('opened it again'),
  'bench.parted': say('took off a block'),
  'bench.tubbed': say('weighed a tub'),
  'bench.ingredient_added': say('put an ingredient in'),
  'bench.joined': say('laid a block into another'),
  'bench.ticked': say('did a step'),
  'bench.skipped': say('left a step out'),
  'bench.measured': say('took the temperature'),
  'batch.started': say('put pieces on a bench together'),
  'trial.designed': say('designed a trial'),
  'trial.changed': say('changed a trial'),
  'tasting.planned': say('planned a tasting'),
  'tasting.changed': say('changed a tasting'),
  'tasting.entered': say('typed sheets in'),
  'tasting.cores': say('entered shear force'),
  'eating.set': say('set how grades are made'),
  'grades.given': say('read given scores in'),
}
export const actionWords = (action: string) => said[action] ?? action

/** The kinds one can filter by. */
export const kinds = [
  { id: '-session', name: say('Everything but coming and going') },
  { id: 'session', name: say('Coming and going') },
  { id: 'password', name: say('Passwords') },
  { id: 'pin', name: 'PINs' },
  { id: 'person', name: say('People') },
  { id: 'shop', name: say('The shop') },
  { id: 'bench', name: say('At the benches') },
  { id: 'scale', name: say('Checks of scales') },
  { id: 'token', name: say('Tokens') },
  { id: 'price', name: say('Prices') },
  { id: 'lot', name: say('Lots') },
  { id: 'piece', name: say('Pieces') },
  { id: 'carcass', name: say('Carcasses') },
  { id: 'plan', name: say('Plans') },
  { id: 'breakdown', name: say('Pieces put on a bench') },
  { id: 'batch', name: say('Pieces cut together') },
  { id: 'tasting', name: say('Tastings') },
  { id: 'trial', name: say('Trials') },
  { id: 'eating', name: say('How grades are made') },
  { id: 'grades', name: say('Given scores') },
  { id: 'method', name: say('Methods') },
  { id: 'judgement', name: say('Judgements') },
]

function value(v: unknown): string {
  if (v === true) return say('yes')
  if (v === false) return say('no')
  if (Array.isArray(v)) return v.join(', ')
  if (v !== null && typeof v === 'object')
    return 'products' in v
      ? say`${(v as { products: unknown[] }).products.length} products`
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
