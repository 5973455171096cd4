import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

export const routes: RouteRecordRaw[] = [
  {
    path: '/shelf',
    component: () => import('./ShelfView.vue'),
    meta: { title: 'Shelf', station: 'shelf' },
  },
  {
    path: '/shelf/found',
    component: () => import('./FoundView.vue'),
    meta: { title: 'A found jar', station: 'shelf' },
  },
  {
    path: '/shelf/:number(\\d+)',
    component: () => import('./ItemView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Tube or jar', station: 'shelf' },
  },
]
