// What is asked of the server, by one name for each question: what is asked under a name is kept under it, and what
// changes the answer says so by that name. A name that is none does not compile.
import type { QueryClient } from '@tanstack/vue-query'

/** Questions that are asked, by what they are about. */
type OfShop =
  'me' | 'shop' | 'example' | 'people' | 'invitation' | 'sessions' | 'benches' | 'checks' | 'tokens' | 'audit'
type OfAtlas =
  'atlas' | 'atlas-maps' | 'atlas-search' | 'carcasses' | 'body' | 'block' | 'straight' | 'portions' | 'pace'
type OfPlans = 'plans' | 'plan-draft' | 'plan-versions' | 'ingredients'
type OfWork =
  'pieces' | 'piece' | 'lots' | 'lot' | 'readiness' | 'ageing' | 'breakdowns' | 'board-then' | 'events' | 'yields'
type OfStock =
  | 'goods'
  | 'goods-log'
  | 'goods-became'
  | 'fat-tests'
  | 'recall'
  | 'recipes'
  | 'blend'
  | 'makings'
  | 'making'
  | 'origin'
type OfEating = 'judgement' | 'grades' | 'eating' | 'tastings' | 'tasting' | 'cook'
type OfMoney = 'prices' | 'price-book' | 'usual-costs' | 'markets' | 'demands' | 'desk' | 'comparison' | 'carcass-value'
type OfTime = 'history' | 'history-pieces' | 'recorded' | 'trials' | 'trial' | 'trials-needed' | 'yield-grade'
type OfOrders =
  'orders' | 'order' | 'order-needs' | 'order-products' | 'whole-animal' | 'day' | 'labels' | 'label' | 'scale-lines'
type OfCounter = 'week' | 'sales' | 'markdowns' | 'counter' | 'screen' | 'instead'
type OfLearning = 'learning' | 'sitting' | 'practice' | 'practice-review' | 'notes'
type OfReports = 'shares' | 'shared'

export type Asked =
  | OfShop
  | OfAtlas
  | OfPlans
  | OfWork
  | OfStock
  | OfEating
  | OfMoney
  | OfTime
  | OfOrders
  | OfCounter
  | OfLearning
  | OfReports

/** The key of a question, with what it is asked about. */
export const keyOf = (of: Asked, ...about: unknown[]): readonly unknown[] => [of, ...about]

/** Asks again, where it stands on a screen, what a change has made old. */
export const refresh = (queries: QueryClient, ...of: Asked[]) =>
  Promise.all(of.map((k) => queries.invalidateQueries({ queryKey: keyOf(k) })))

/** What a price moves: the book, and all that is reckoned with it. */
export const pricedBy: Asked[] = ['prices', 'price-book', 'piece', 'desk', 'blend', 'goods']
