import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

const station = 'sludge'
export const routes: RouteRecordRaw[] = [
  { path: '/sludge', component: () => import('./SludgeIndex.vue'), meta: { title: 'Sludge', station } },
  {
    path: '/sludge/cans/:number(\\d+)',
    component: () => import('./CanView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Can', station },
  },
  {
    path: '/sludge/dishes/:number(\\d+)',
    component: () => import('./DishView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Dish', station },
  },
  {
    path: '/sludge/cakes/:number(\\d+)',
    component: () => import('./CakeView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Cake', station },
  },
]
