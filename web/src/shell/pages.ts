// Every page that is not a piece of work itself: where it stands in the menu, who may see it, what it is found by.
import type { Route } from './me'

export interface Page {
  name: string
  label: string
  needs?: Route
  /** Other words that one would look for it with. */
  words: string
}
export interface PageGroup {
  label: string
  pages: Page[]
}

export const pageGroups: PageGroup[] = [
  {
    label: 'Work',
    pages: [
      { name: 'receive', label: 'Receive', needs: 'POST /lots', words: 'delivery arrival new lot come in' },
      { name: 'note', label: 'Delivery note', needs: 'POST /lots/import', words: 'receive file csv xlsx import' },
      { name: 'lots', label: 'Lots', needs: 'GET /lots', words: 'received suppliers' },
      { name: 'ready', label: 'Ready when', needs: 'GET /readiness', words: 'ageing age calendar mince' },
      {
        name: 'orders',
        label: 'Orders',
        needs: 'GET /orders',
        words: 'customer due delivery slip whole lamb pack',
      },
      { name: 'day', label: 'The day', needs: 'GET /day', words: 'schedule rota who cuts what when saw shift gantt' },
      {
        name: 'stock',
        label: 'In stock',
        needs: 'GET /goods',
        words: 'goods tubs trim trays freezer count sold waste',
      },
      {
        name: 'labels',
        label: 'Labels and tickets',
        needs: 'GET /labels',
        words: 'barcode EAN GS1 print pack price ticket printer',
      },
      {
        name: 'stock-reduce',
        label: 'Sell for less',
        needs: 'GET /goods/markdowns',
        words: 'reduce markdown use-by clear price off',
      },
      {
        name: 'counter',
        label: 'The counter',
        needs: 'GET /counter',
        words: 'trays display layout screen above',
      },
      {
        name: 'blend',
        label: 'Mince and make',
        needs: 'GET /makings',
        words: 'blend trim batch mincer burger sausage',
      },
      { name: 'log', label: 'Log', needs: 'GET /breakdowns', words: 'everything cut history export replay' },
      { name: 'tastings', label: 'Tastings', needs: 'GET /tastings', words: 'panel eaters sheets scores' },
      { name: 'trials', label: 'Trials', needs: 'GET /trials', words: 'pairs left right test side by side' },
    ],
  },
  {
    label: 'Know',
    pages: [
      { name: 'atlas', label: 'Atlas', words: 'pieces muscles names carcass seams' },
      {
        name: 'learning',
        label: 'Learn',
        needs: 'GET /learning',
        words: 'train drill apprentice practice quiz record sign off curve',
      },
      {
        name: 'same-meat',
        label: 'Same meat, other names',
        needs: 'GET /same-meat',
        words: 'names markets edible price',
      },
      {
        name: 'instead',
        label: 'Instead of',
        needs: 'GET /instead',
        words: 'cheaper alternative substitute customer asks',
      },
      { name: 'grades', label: 'Grades', words: 'eating quality score muscle method' },
      { name: 'grade-settings', label: 'How grades are made', words: 'eating weights supplier scores import' },
      { name: 'cooking', label: 'Cook', words: 'timetable oven probe temperature cards' },
    ],
  },
  {
    label: 'Money',
    pages: [
      { name: 'desk', label: 'Does it pay?', needs: 'POST /comparisons', words: 'value compare margin break even' },
      { name: 'best-use', label: 'Best use today', needs: 'POST /best-use', words: 'plan the day demand' },
      {
        name: 'week',
        label: 'A week’s kill',
        needs: 'POST /week',
        words: 'best carcass heads lambs sides next week bid',
      },
      { name: 'carcass-value', label: 'Whole carcass', words: 'value side lamb beef' },
      { name: 'history', label: 'Over time', needs: 'GET /history', words: 'weeks cutter supplier yield chart' },
      {
        name: 'sales',
        label: 'Sales',
        needs: 'GET /sales',
        words: 'till demand forecast what sells naming trial import week',
      },
      { name: 'prices', label: 'Prices', needs: 'GET /prices', words: 'price book markets import' },
      {
        name: 'ingredients',
        label: 'Ingredients',
        needs: 'GET /ingredients',
        words: 'stuffing spice net string allergens',
      },
      {
        name: 'recipes',
        label: 'Recipes',
        needs: 'GET /recipes',
        words: 'mince burger sausage stuffing marinade cure',
      },
      { name: 'shares', label: 'Shared reports', needs: 'GET /shares', words: 'links pdf' },
    ],
  },
  {
    label: 'Shop',
    pages: [
      { name: 'settings', label: 'Settings', needs: 'GET /shop', words: 'currency unit wage loss limit market' },
      { name: 'people', label: 'People', needs: 'GET /people', words: 'members roles invite PIN' },
      { name: 'benches', label: 'Benches', needs: 'GET /benches', words: 'scale screen code probe' },
      { name: 'tokens', label: 'Access tokens', needs: 'GET /tokens', words: 'script API' },
      { name: 'audit', label: 'Who changed what', needs: 'GET /audit', words: 'audit sign in' },
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
