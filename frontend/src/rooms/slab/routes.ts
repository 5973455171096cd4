import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

export const routes: RouteRecordRaw[] = [
  {
    path: '/slab',
    component: () => import('./SlabIndex.vue'),
    meta: { title: 'Slab', station: 'slab' },
  },
  {
    path: '/slab/:number(\\d+)',
    component: () => import('./SlabView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Slab', station: 'slab' },
  },
]
