import type { RouteRecordRaw } from 'vue-router'

export const routes: RouteRecordRaw[] = [
  {
    path: '/workshop',
    component: () => import('./WorkshopView.vue'),
    meta: { title: 'Workshop', station: 'workshop' },
  },
]
