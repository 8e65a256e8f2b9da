import { createRouter, createWebHistory } from 'vue-router'
import { say } from './words/say'

declare module 'vue-router' {
  interface RouteMeta {
    /** Open without a sign-in. */
    open?: boolean
    /** Its pages share one frame. */
    keep?: boolean
    /** What the page is called. */
    title?: string
    /** The page that it hangs under; a name of a route that needs no more than this one has. */
    in?: string
    /** A bench's screen: no desk page is offered on it. */
    bench?: boolean
  }
}

/** A part of a page may come only when its answer has: it is waited for, for a moment. */
async function whenThere(hash: string) {
  const id = decodeURIComponent(hash.slice(1))
  for (let i = 0; i < 40 && !document.getElementById(id); i++) await new Promise((done) => setTimeout(done, 50))
  return document.getElementById(id) ? { el: `#${CSS.escape(id)}`, top: 72 } : { top: 0 }
}

export const router = createRouter({
  history: createWebHistory(),
  // back and forward come to where one was; a part that is named is shown; else a page begins at its top
  scrollBehavior: (to, from, saved) =>
    saved ?? (to.hash ? whenThere(to.hash) : to.path === from.path ? {} : { top: 0 }),
  routes: [
    {
      path: '/',
      name: 'rail',
      component: () => import('./stages/rail/RailView.vue'),
      meta: { title: say('On the rail') },
    },
    {
      path: '/ready',
      name: 'ready',
      component: () => import('./stages/rail/ReadyView.vue'),
      meta: { title: say('Ready when'), in: 'rail' },
    },
    {
      path: '/receive',
      name: 'receive',
      component: () => import('./stages/receive/ReceiveView.vue'),
      meta: { title: say('Receive'), in: 'rail' },
    },
    {
      path: '/receive/note',
      name: 'note',
      component: () => import('./stages/receive/NoteView.vue'),
      meta: { title: say('Delivery note'), in: 'lots' },
    },
    {
      path: '/lots',
      name: 'lots',
      component: () => import('./stages/receive/LotsView.vue'),
      meta: { title: say('Lots') },
    },
    {
      path: '/lots/:lot',
      name: 'lot',
      component: () => import('./stages/receive/LotView.vue'),
      props: true,
      meta: { title: say('Lot'), in: 'lots' },
    },
    {
      path: '/plan/:piece',
      name: 'plan',
      component: () => import('./stages/plan/PlanView.vue'),
      props: true,
      meta: { title: say('Plan'), in: 'rail' },
    },
    {
      path: '/orders',
      name: 'orders',
      component: () => import('./orders/OrdersView.vue'),
      meta: { title: say('Orders') },
    },
    {
      path: '/orders/new',
      name: 'order-new',
      component: () => import('./orders/OrderForm.vue'),
      meta: { title: say('Take an order'), in: 'orders' },
    },
    {
      path: '/orders/:order',
      name: 'order',
      component: () => import('./orders/OrderView.vue'),
      props: true,
      meta: { title: say('Order'), in: 'orders' },
    },
    {
      path: '/orders/:order/edit',
      name: 'order-edit',
      component: () => import('./orders/OrderForm.vue'),
      props: true,
      meta: { title: say('Change an order'), in: 'order' },
    },
    {
      path: '/labels',
      name: 'labels',
      component: () => import('./labels/LabelsView.vue'),
      meta: { title: say('Labels and tickets') },
    },
    { path: '/sales', name: 'sales', component: () => import('./sales/SalesView.vue'), meta: { title: say('Sales') } },
    {
      path: '/counter',
      name: 'counter',
      component: () => import('./counter/CounterView.vue'),
      meta: { title: say('The counter') },
    },
    {
      path: '/instead',
      name: 'instead',
      component: () => import('./counter/InsteadView.vue'),
      meta: { title: say('Instead of') },
    },
    {
      path: '/above/:link',
      name: 'above',
      component: () => import('./counter/AboveView.vue'),
      props: true,
      meta: { title: say('What there is'), open: true },
    },
    { path: '/day', name: 'day', component: () => import('./day/DayView.vue'), meta: { title: say('The day') } },
    { path: '/log', name: 'log', component: () => import('./log/LogView.vue'), meta: { title: say('Log') } },
    {
      path: '/log/:breakdown',
      name: 'replay',
      component: () => import('./log/ReplayView.vue'),
      props: true,
      meta: { title: say('Event by event'), in: 'log' },
    },
    {
      path: '/bench/:breakdown',
      name: 'bench',
      component: () => import('./bench/BenchView.vue'),
      props: true,
      meta: { title: say('Bench'), bench: true },
    },
    {
      path: '/batch/:batch',
      name: 'batch',
      component: () => import('./bench/BatchView.vue'),
      props: true,
      meta: { title: say('Bench'), bench: true },
    },
    {
      path: '/judge/:breakdown',
      name: 'judge',
      component: () => import('./stages/judge/JudgeView.vue'),
      props: true,
      meta: { title: say('Judge'), in: 'rail' },
    },
    {
      path: '/compare/:breakdown',
      name: 'compare',
      component: () => import('./stages/compare/CompareView.vue'),
      props: true,
      meta: { title: say('Compare'), in: 'rail' },
    },
    {
      path: '/shop',
      component: () => import('./shop/ShopFrame.vue'),
      meta: { keep: true },
      children: [
        {
          path: '',
          name: 'settings',
          component: () => import('./shop/SettingsPage.vue'),
          meta: { title: say('Settings') },
        },
        {
          path: 'prices',
          name: 'prices',
          component: () => import('./shop/PricesPage.vue'),
          meta: { title: say('Prices') },
        },
        {
          path: 'ingredients',
          name: 'ingredients',
          component: () => import('./shop/IngredientsPage.vue'),
          meta: { title: say('Ingredients') },
        },
        {
          path: 'people',
          name: 'people',
          component: () => import('./shop/PeoplePage.vue'),
          meta: { title: say('People') },
        },
        {
          path: 'benches',
          name: 'benches',
          component: () => import('./shop/BenchesPage.vue'),
          meta: { title: say('Benches') },
        },
        {
          path: 'tokens',
          name: 'tokens',
          component: () => import('./shop/TokensPage.vue'),
          meta: { title: say('Access tokens') },
        },
        {
          path: 'audit',
          name: 'audit',
          component: () => import('./shop/AuditPage.vue'),
          meta: { title: say('Who changed what') },
        },
      ],
    },
    {
      path: '/plans/:piece',
      name: 'plans',
      component: () => import('./plans/PlansView.vue'),
      props: true,
      meta: { title: say('Cutting plans'), in: 'atlas' },
    },
    {
      path: '/plans/:piece/new',
      name: 'plan-new',
      component: () => import('./plans/PlanEditor.vue'),
      props: true,
      meta: { title: say('New cutting plan'), in: 'plans' },
    },
    {
      path: '/plans/:piece/new/steps',
      name: 'plan-steps-new',
      component: () => import('./plans/steps/StepsEditor.vue'),
      props: true,
      meta: { title: say('New cutting plan in steps'), in: 'plans' },
    },
    {
      path: '/plans/:piece/edit/:plan/steps',
      name: 'plan-steps-edit',
      component: () => import('./plans/steps/StepsEditor.vue'),
      props: true,
      meta: { title: say('Cutting plan in steps'), in: 'plans' },
    },
    {
      path: '/plans/:piece/edit/:plan',
      name: 'plan-edit',
      component: () => import('./plans/PlanEditor.vue'),
      props: true,
      meta: { title: say('Cutting plan'), in: 'plans' },
    },
    { path: '/atlas', name: 'atlas', component: () => import('./atlas/AtlasView.vue'), meta: { title: say('Atlas') } },
    {
      path: '/atlas/carcass/:carcass',
      name: 'carcass',
      component: () => import('./atlas/CarcassView.vue'),
      props: true,
      meta: { title: say('Carcass'), in: 'atlas' },
    },
    {
      path: '/atlas/:piece',
      name: 'atlas-piece',
      component: () => import('./atlas/AtlasPieceView.vue'),
      props: true,
      meta: { title: say('Piece'), in: 'atlas' },
    },
    {
      path: '/grades/:piece?',
      name: 'grades',
      component: () => import('./grades/GradesView.vue'),
      props: true,
      meta: { title: say('Grades'), keep: true },
    },
    {
      path: '/grade-settings',
      name: 'grade-settings',
      component: () => import('./grades/EatingPage.vue'),
      meta: { title: say('How grades are made'), in: 'grades' },
    },
    {
      path: '/stock',
      name: 'stock',
      component: () => import('./goods/StockView.vue'),
      meta: { title: say('In stock'), keep: true },
    },
    {
      path: '/stock/reduce',
      name: 'stock-reduce',
      component: () => import('./goods/ReduceView.vue'),
      meta: { title: say('Sell for less'), in: 'stock' },
    },
    {
      path: '/stock/count',
      name: 'stock-count',
      component: () => import('./goods/CountView.vue'),
      meta: { title: say('Count a room'), in: 'stock' },
    },
    {
      path: '/stock/log',
      name: 'stock-log',
      component: () => import('./goods/StockLogView.vue'),
      meta: { title: say('What became of it'), in: 'stock' },
    },
    {
      path: '/recall/:lot',
      name: 'recall',
      component: () => import('./goods/RecallView.vue'),
      props: true,
      meta: { title: say('Recall'), in: 'lots' },
    },
    {
      path: '/making',
      name: 'blend',
      component: () => import('./made/BlendView.vue'),
      meta: { title: say('Mince and make') },
    },
    {
      path: '/making/:making',
      name: 'making',
      component: () => import('./made/MakingView.vue'),
      props: true,
      meta: { title: say('Batch'), in: 'blend' },
    },
    {
      path: '/recipes',
      name: 'recipes',
      component: () => import('./made/RecipesView.vue'),
      meta: { title: say('Recipes'), keep: true },
    },
    {
      path: '/same-meat',
      name: 'same-meat',
      component: () => import('./atlas/SameMeatView.vue'),
      meta: { title: say('Same meat, other names') },
    },
    {
      path: '/tastings',
      name: 'tastings',
      component: () => import('./tasting/TastingsView.vue'),
      meta: { title: say('Tastings') },
    },
    {
      path: '/tastings/new',
      name: 'tasting-new',
      component: () => import('./tasting/PlanTasting.vue'),
      meta: { title: say('New tasting'), in: 'tastings' },
    },
    {
      path: '/tastings/:tasting',
      name: 'tasting',
      component: () => import('./tasting/TastingView.vue'),
      props: true,
      meta: { title: say('Tasting'), in: 'tastings' },
    },
    {
      path: '/taste/:link',
      name: 'taste',
      component: () => import('./tasting/TasteView.vue'),
      props: true,
      meta: { title: say('Tasting'), open: true },
    },
    {
      path: '/learning',
      name: 'learning',
      component: () => import('./learn/LearningView.vue'),
      meta: { title: say('Learn') },
    },
    {
      path: '/learning/drill',
      name: 'drill',
      component: () => import('./learn/DrillView.vue'),
      meta: { title: say('Drill') },
    },
    {
      path: '/learning/practice/:breakdown',
      name: 'practice',
      component: () => import('./learn/PracticeView.vue'),
      props: true,
      meta: { title: say('Practice piece') },
    },
    {
      path: '/cooking',
      name: 'cooking',
      component: () => import('./cooking/CookView.vue'),
      meta: { title: say('Cook') },
    },
    {
      path: '/cook/:piece/:product',
      name: 'cook-card',
      component: () => import('./cooking/CardView.vue'),
      props: true,
      meta: { title: say('Cooking card'), open: true },
    },
    {
      path: '/value',
      component: () => import('./value/ValueFrame.vue'),
      meta: { keep: true },
      children: [
        {
          path: '',
          name: 'desk',
          component: () => import('./value/DeskView.vue'),
          meta: { title: say('Does it pay?') },
        },
        {
          path: 'week',
          name: 'week',
          component: () => import('./value/WeekView.vue'),
          meta: { title: say('A week’s kill') },
        },
        {
          path: 'best-use',
          name: 'best-use',
          component: () => import('./value/BestUseView.vue'),
          meta: { title: say('Best use today') },
        },
        {
          path: 'carcass',
          name: 'carcass-value',
          component: () => import('./value/CarcassValueView.vue'),
          meta: { title: say('Whole carcass') },
        },
        {
          path: 'history',
          name: 'history',
          component: () => import('./value/HistoryView.vue'),
          meta: { title: say('Over time') },
        },
        {
          path: 'shares',
          name: 'shares',
          component: () => import('./value/SharesView.vue'),
          meta: { title: say('Shared reports') },
        },
        {
          path: '/trials',
          name: 'trials',
          component: () => import('./trials/TrialsView.vue'),
          meta: { title: say('Trials') },
        },
        {
          path: '/trials/:trial',
          name: 'trial',
          component: () => import('./trials/TrialView.vue'),
          props: true,
          meta: { title: say('Trial'), in: 'trials' },
        },
      ],
    },
    {
      path: '/shared/:link',
      name: 'shared',
      component: () => import('./value/SharedView.vue'),
      props: true,
      meta: { title: say('Report'), open: true },
    },
    { path: '/me', name: 'me', component: () => import('./entry/MeView.vue'), meta: { title: say('Your page') } },
    { path: '/who', name: 'who', component: () => import('./entry/WhoView.vue'), meta: { title: say('Who cuts') } },
    {
      path: '/set-up',
      name: 'set-up',
      component: () => import('./entry/SetUpView.vue'),
      meta: { title: say('Set up'), open: true },
    },
    {
      path: '/welcome',
      name: 'welcome',
      component: () => import('./entry/WelcomeView.vue'),
      meta: { title: say('Welcome'), open: true },
    },
    {
      path: '/enrol',
      name: 'enrol',
      component: () => import('./entry/EnrolView.vue'),
      meta: { title: say('Enrol a screen'), open: true },
    },
    {
      path: '/:rest(.*)*',
      name: 'lost',
      component: () => import('./shell/LostView.vue'),
      meta: { title: say('Nothing here') },
    },
  ],
})

// a page of a program that was upgraded meanwhile asks for parts that are no longer there: the new page is loaded
router.onError((e: Error, to) => {
  if (/module/i.test(e.message)) location.assign(to.fullPath)
})
