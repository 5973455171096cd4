import type { RouteRecordRaw } from 'vue-router'

export const routes: RouteRecordRaw[] = [
  {
    path: '/makers',
    component: () => import('./MakersView.vue'),
    meta: { title: 'Makers', station: 'workshop' },
  },
  { path: '/pair', component: () => import('./PairView.vue'), meta: { title: 'This phone', open: true } },
]
