import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

export const routes: RouteRecordRaw[] = [
  {
    path: '/checks',
    component: () => import('./ChecksIndex.vue'),
    meta: { title: 'Check', station: 'check' },
  },
  {
    path: '/checks/:number(\\d+)',
    component: () => import('./CheckView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Check', station: 'check' },
  },
]
