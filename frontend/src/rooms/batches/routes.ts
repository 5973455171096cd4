import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

export const routes: RouteRecordRaw[] = [
  {
    path: '/batches',
    component: () => import('./BatchList.vue'),
    meta: { title: 'Batches', station: 'batches' },
  },
  {
    path: '/batches/:number(\\d+)',
    component: () => import('./BatchPage.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Batch', station: 'batches' },
  },
]
