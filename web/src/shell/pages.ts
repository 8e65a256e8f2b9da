// Every page that is not a piece of work itself: where it stands in the menu, who may see it, what it is found by.
import type { Route } from './me'
import { say } from '../words/say'

export interface Page {
  name: string
  label: string
  needs?: Route
  /** Other words that one would look for it with. */
  words: string
}
export interface PageGroup {
  id?: 'shop'
  label: string
  pages: Page[]
}

export const pageGroups: PageGroup[] = [
  {
    label: say('Work'),
    pages: [
      { name: 'receive', label: say('Receive'), needs: 'POST /lots', words: say('delivery arrival new lot come in') },
      {
        name: 'note',
        label: say('Delivery note'),
        needs: 'POST /lots/import',
        words: say('receive file csv xlsx import'),
      },
      { name: 'lots', label: say('Lots'), needs: 'GET /lots', words: say('received suppliers') },
      { name: 'ready', label: say('Ready when'), needs: 'GET /readiness', words: say('ageing age calendar mince') },
      {
        name: 'orders',
        label: say('Orders'),
        needs: 'GET /orders',
        words: say('customer due delivery slip whole lamb pack'),
      },
      {
        name: 'day',
        label: say('The day'),
        needs: 'GET /day',
        words: say('schedule rota who cuts what when saw shift gantt'),
      },
      {
        name: 'stock',
        label: say('In stock'),
        needs: 'GET /goods',
        words: say('goods tubs trim trays freezer count sold waste'),
      },
      {
        name: 'labels',
        label: say('Labels and tickets'),
        needs: 'GET /labels',
        words: say('barcode EAN GS1 print pack price ticket printer'),
      },
      {
        name: 'stock-reduce',
        label: say('Sell for less'),
        needs: 'GET /goods/markdowns',
        words: say('reduce markdown use-by clear price off'),
      },
      {
        name: 'counter',
        label: say('The counter'),
        needs: 'GET /counter',
        words: say('trays display layout screen above'),
      },
      {
        name: 'blend',
        label: say('Mince and make'),
        needs: 'GET /makings',
        words: say('blend trim batch mincer burger sausage'),
      },
      { name: 'log', label: say('Log'), needs: 'GET /breakdowns', words: say('everything cut history export replay') },
      { name: 'tastings', label: say('Tastings'), needs: 'GET /tastings', words: say('panel eaters sheets scores') },
      { name: 'trials', label: say('Trials'), needs: 'GET /trials', words: say('pairs left right test side by side') },
    ],
  },
  {
    label: say('Know'),
    pages: [
      { name: 'atlas', label: say('Atlas'), words: say('pieces muscles names carcass seams') },
      {
        name: 'learning',
        label: say('Learn'),
        needs: 'GET /learning',
        words: say('train drill apprentice practice quiz record sign off curve'),
      },
      {
        name: 'same-meat',
        label: say('Same meat, other names'),
        needs: 'GET /same-meat',
        words: say('names markets edible price'),
      },
      {
        name: 'instead',
        label: say('Instead of'),
        needs: 'GET /instead',
        words: say('cheaper alternative substitute customer asks'),
      },
      { name: 'grades', label: say('Grades'), words: say('eating quality score muscle method') },
      {
        name: 'grade-settings',
        label: say('How grades are made'),
        words: say('eating weights supplier scores import'),
      },
      { name: 'cooking', label: say('Cook'), words: say('timetable oven probe temperature cards') },
    ],
  },
  {
    label: say('Money'),
    pages: [
      {
        name: 'desk',
        label: say('Does it pay?'),
        needs: 'POST /comparisons',
        words: say('value compare margin break even'),
      },
      { name: 'best-use', label: say('Best use today'), needs: 'POST /best-use', words: say('plan the day demand') },
      {
        name: 'week',
        label: say('A week’s kill'),
        needs: 'POST /week',
        words: say('best carcass heads lambs sides next week bid'),
      },
      { name: 'carcass-value', label: say('Whole carcass'), words: say('value side lamb beef') },
      {
        name: 'history',
        label: say('Over time'),
        needs: 'GET /history',
        words: say('weeks cutter supplier yield chart'),
      },
      {
        name: 'sales',
        label: say('Sales'),
        needs: 'GET /sales',
        words: say('till demand forecast what sells naming trial import week'),
      },
      { name: 'prices', label: say('Prices'), needs: 'GET /prices', words: say('price book markets import') },
      {
        name: 'ingredients',
        label: say('Ingredients'),
        needs: 'GET /ingredients',
        words: say('stuffing spice net string allergens'),
      },
      {
        name: 'recipes',
        label: say('Recipes'),
        needs: 'GET /recipes',
        words: say('mince burger sausage stuffing marinade cure'),
      },
      { name: 'shares', label: say('Shared reports'), needs: 'GET /shares', words: say('links pdf') },
    ],
  },
  {
    id: 'shop',
    label: say('Shop'),
    pages: [
      {
        name: 'settings',
        label: say('Settings'),
        needs: 'GET /shop',
        words: say('currency unit wage loss limit market'),
      },
      { name: 'people', label: say('People'), needs: 'GET /people', words: say('members roles invite PIN') },
      { name: 'benches', label: say('Benches'), needs: 'GET /benches', words: say('scale screen code probe') },
      { name: 'tokens', label: say('Access tokens'), needs: 'GET /tokens', words: say('script API') },
      { name: 'audit', label: say('Who changed what'), needs: 'GET /audit', words: say('audit sign in') },
    ],
  },
]

/** The pages that fit a question, in the order of the menu; those whose name begins so come first. */
export function pagesLike(question: string, may: (r: Route) => boolean): Page[] {
  const q = question.trim().toLowerCase()
  if (!q) return []
  const all = pageGroups.flatMap((g) => g.pages).filter((p) => !p.needs || may(p.needs))
  const at = (p: Page) => p.label.toLowerCase().indexOf(q)
  const begins = all.filter((p) => at(p) === 0)
  const others = all.filter((p) => at(p) > 0 || (at(p) < 0 && p.words.toLowerCase().includes(q)))
  return [...begins, ...others]
}
