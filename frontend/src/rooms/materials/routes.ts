import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

export const routes: RouteRecordRaw[] = [
  {
    path: '/stock',
    component: () => import('./StockView.vue'),
    meta: { title: 'Stock', station: 'stock' },
  },
  {
    path: '/stock/:number(\\d+)',
    component: () => import('./LotPage.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Lot', station: 'stock' },
  },
]
