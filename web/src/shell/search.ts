// What can be found, kind by kind. A new kind of thing adds a source here.
import type { RouteLocationRaw } from 'vue-router'
import { data, GET, type S } from '../api/client'
import { counted, say } from '../words/say'
import { workplace } from '../stages/rail/useRail'
import type { Route } from './me'
import { pagesLike } from './pages'

export interface Hit {
  title: string
  detail: string
  to: RouteLocationRaw
}
export interface HitGroup {
  label: string
  hits: Hit[]
}
interface Words {
  may: (r: Route) => boolean
  mass: (g: number, places?: number) => string
}

const stages: Record<S['PieceCard']['stage'], string> = {
  plan: say('to plan'),
  bench: say('on the bench'),
  judge: say('to judge'),
  compare: 'done',
}

const pieceHit = (p: S['PieceCard'], w: Words): Hit => ({
  title: `${p.name} ${p.lot_number}${p.of > 1 ? say`, ${p.number} of ${p.of}` : ''}`,
  detail: say`${stages[p.stage]} · ${w.mass(p.weight_g, 2)} · day ${p.age_days} · ${p.supplier}`,
  to: workplace(p),
})
const lotHit = (l: S['Lot'], w: Words): Hit => ({
  title: say`Lot ${l.lot_number}`,
  detail: say`${counted(l.pieces, 'piece')} of ${l.name}, ${w.mass(l.total_g, 1)} · ${l.supplier}`,
  to: { name: 'lot', params: { lot: l.id } },
})
function nameHit(h: S['PieceHit']): Hit {
  const to = { name: 'atlas-piece', params: { piece: h.id }, ...(h.kind === 'muscle' && { hash: `#${h.part}` }) }
  const of = {
    piece: '',
    muscle: say`muscle of ${h.name} · `,
    part: say`part of ${h.name} · `,
    product: say`made of ${h.name} · `,
  }[h.kind]
  return { title: h.part_name, detail: `${of}${h.near ? say('perhaps ') : ''}“${h.matched}”`, to }
}

/** What a question finds, best kind first; kinds without a hit are left out. */
export async function findAll(question: string, w: Words): Promise<HitGroup[]> {
  const pages = pagesLike(question, w.may).map((p): Hit => ({ title: p.label, detail: '', to: { name: p.name } }))
  const found = await data(GET('/search', { params: { query: { q: question.slice(0, 80) } } }))
  const names = { label: say('Cuts, muscles, products'), hits: found.atlas.map(nameHit) }
  const groups = [
    { label: say('Pieces'), hits: found.pieces.slice(0, 5).map((p) => pieceHit(p, w)) },
    { label: say('Lots'), hits: found.lots.slice(0, 4).map((l) => lotHit(l, w)) },
    { label: say('Pages'), hits: pages.slice(0, 4) },
  ]
  // who names a muscle or a product wants that, not the pieces that hold it
  const first = found.atlas[0]
  const all = first && first.kind !== 'piece' && !first.near ? [names, ...groups] : [...groups, names]
  return all.filter((g) => g.hits.length)
}
