import { createRouter, createWebHistory } from 'vue-router'

declare module 'vue-router' {
  interface RouteMeta {
    /** Open without a sign-in. */
    open?: boolean
    /** Its pages share one frame. */
    keep?: boolean
  }
}

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'rail', component: () => import('./stages/rail/RailView.vue') },
    { path: '/ready', name: 'ready', component: () => import('./stages/rail/ReadyView.vue') },
    { path: '/receive', name: 'receive', component: () => import('./stages/receive/ReceiveView.vue') },
    { path: '/receive/note', name: 'note', component: () => import('./stages/receive/NoteView.vue') },
    { path: '/lots', name: 'lots', component: () => import('./stages/receive/LotsView.vue') },
    { path: '/lots/:lot', name: 'lot', component: () => import('./stages/receive/LotView.vue'), props: true },
    { path: '/plan/:piece', name: 'plan', component: () => import('./stages/plan/PlanView.vue'), props: true },
    { path: '/log', name: 'log', component: () => import('./log/LogView.vue') },
    { path: '/log/:breakdown', name: 'replay', component: () => import('./log/ReplayView.vue'), props: true },
    { path: '/bench/:breakdown', name: 'bench', component: () => import('./bench/BenchView.vue'), props: true },
    { path: '/batch/:batch', name: 'batch', component: () => import('./bench/BatchView.vue'), props: true },
    { path: '/judge/:breakdown', name: 'judge', component: () => import('./stages/judge/JudgeView.vue'), props: true },
    {
      path: '/compare/:breakdown',
      name: 'compare',
      component: () => import('./stages/compare/CompareView.vue'),
      props: true,
    },
    {
      path: '/shop',
      component: () => import('./shop/ShopFrame.vue'),
      meta: { keep: true },
      children: [
        { path: '', name: 'settings', component: () => import('./shop/SettingsPage.vue') },
        { path: 'prices', name: 'prices', component: () => import('./shop/PricesPage.vue') },
        { path: 'people', name: 'people', component: () => import('./shop/PeoplePage.vue') },
        { path: 'benches', name: 'benches', component: () => import('./shop/BenchesPage.vue') },
        { path: 'tokens', name: 'tokens', component: () => import('./shop/TokensPage.vue') },
        { path: 'audit', name: 'audit', component: () => import('./shop/AuditPage.vue') },
      ],
    },
    { path: '/plans/:piece', name: 'plans', component: () => import('./plans/PlansView.vue'), props: true },
    { path: '/plans/:piece/new', name: 'plan-new', component: () => import('./plans/PlanEditor.vue'), props: true },
    {
      path: '/plans/:piece/edit/:plan',
      name: 'plan-edit',
      component: () => import('./plans/PlanEditor.vue'),
      props: true,
    },
    { path: '/atlas', name: 'atlas', component: () => import('./atlas/AtlasView.vue') },
    {
      path: '/atlas/carcass/:carcass',
      name: 'carcass',
      component: () => import('./atlas/CarcassView.vue'),
      props: true,
    },
    { path: '/atlas/:piece', name: 'atlas-piece', component: () => import('./atlas/AtlasPieceView.vue'), props: true },
    {
      path: '/grades/:piece?',
      name: 'grades',
      component: () => import('./grades/GradesView.vue'),
      props: true,
      meta: { keep: true },
    },
    { path: '/grade-settings', name: 'grade-settings', component: () => import('./grades/EatingPage.vue') },
    { path: '/tastings', name: 'tastings', component: () => import('./tasting/TastingsView.vue') },
    { path: '/tastings/new', name: 'tasting-new', component: () => import('./tasting/PlanTasting.vue') },
    { path: '/tastings/:tasting', name: 'tasting', component: () => import('./tasting/TastingView.vue'), props: true },
    {
      path: '/taste/:link',
      name: 'taste',
      component: () => import('./tasting/TasteView.vue'),
      props: true,
      meta: { open: true },
    },
    { path: '/cooking', name: 'cooking', component: () => import('./cooking/CookView.vue') },
    {
      path: '/cook/:piece/:product',
      name: 'cook-card',
      component: () => import('./cooking/CardView.vue'),
      props: true,
      meta: { open: true },
    },
    {
      path: '/value',
      component: () => import('./value/ValueFrame.vue'),
      meta: { keep: true },
      children: [
        { path: '', name: 'desk', component: () => import('./value/DeskView.vue') },
        { path: 'best-use', name: 'best-use', component: () => import('./value/BestUseView.vue') },
        { path: 'carcass', name: 'carcass-value', component: () => import('./value/CarcassValueView.vue') },
        { path: 'history', name: 'history', component: () => import('./value/HistoryView.vue') },
        { path: 'shares', name: 'shares', component: () => import('./value/SharesView.vue') },
        { path: '/trials', name: 'trials', component: () => import('./trials/TrialsView.vue') },
        { path: '/trials/:trial', name: 'trial', component: () => import('./trials/TrialView.vue'), props: true },
      ],
    },
    {
      path: '/shared/:link',
      name: 'shared',
      component: () => import('./value/SharedView.vue'),
      props: true,
      meta: { open: true },
    },
    { path: '/me', name: 'me', component: () => import('./entry/MeView.vue') },
    { path: '/who', name: 'who', component: () => import('./entry/WhoView.vue') },
    { path: '/set-up', name: 'set-up', component: () => import('./entry/SetUpView.vue'), meta: { open: true } },
    { path: '/welcome', name: 'welcome', component: () => import('./entry/WelcomeView.vue'), meta: { open: true } },
    { path: '/enrol', name: 'enrol', component: () => import('./entry/EnrolView.vue'), meta: { open: true } },
    { path: '/:rest(.*)*', name: 'lost', component: () => import('./shell/LostView.vue') },
  ],
})
