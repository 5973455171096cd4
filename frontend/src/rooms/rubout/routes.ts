import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

export const routes: RouteRecordRaw[] = [
  {
    path: '/rub-out',
    component: () => import('./RuboutIndex.vue'),
    meta: { title: 'Rub-out', station: 'rubout' },
  },
  {
    path: '/rub-out/:number(\\d+)',
    component: () => import('./RuboutView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Rub-out', station: 'rubout' },
  },
  {
    path: '/pigments/:pigment',
    component: () => import('./PigmentPage.vue'),
    props: true,
    meta: { title: 'Pigment', station: 'rubout' },
  },
]
