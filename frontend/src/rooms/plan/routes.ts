import type { RouteRecordRaw } from 'vue-router'

export const routes: RouteRecordRaw[] = [
  {
    path: '/plan',
    component: () => import('./PlanView.vue'),
    meta: { title: 'Plan', station: 'plan' },
  },
]
