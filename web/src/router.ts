import { createRouter, createWebHistory } from 'vue-router'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', name: 'rail', component: () => import('./stages/rail/RailView.vue') },
    { path: '/receive', name: 'receive', component: () => import('./stages/receive/ReceiveView.vue') },
    { path: '/plan/:piece', name: 'plan', component: () => import('./stages/plan/PlanView.vue'), props: true },
    { path: '/bench/:breakdown', name: 'bench', component: () => import('./bench/BenchView.vue'), props: true },
    { path: '/judge/:breakdown', name: 'judge', component: () => import('./stages/judge/JudgeView.vue'), props: true },
    { path: '/compare/:breakdown', name: 'compare', component: () => import('./stages/compare/CompareView.vue'), props: true },
    { path: '/:rest(.*)*', name: 'lost', component: () => import('./shell/LostView.vue') },
  ],
})
