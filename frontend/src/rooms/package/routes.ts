import type { RouteRecordRaw } from 'vue-router'

export const routes: RouteRecordRaw[] = [
  {
    path: '/package',
    component: () => import('./PackageView.vue'),
    meta: { title: 'The whole studio', station: 'workshop' },
  },
]
