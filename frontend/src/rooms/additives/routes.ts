import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

export const routes: RouteRecordRaw[] = [
  {
    path: '/additives',
    component: () => import('./AdditivesIndex.vue'),
    meta: { title: 'Additives', station: 'additives' },
  },
  {
    path: '/additives/body',
    component: () => import('./IntentView.vue'),
    meta: { title: 'Body by intent', station: 'additives' },
  },
  {
    path: '/additives/gel',
    component: () => import('./GelView.vue'),
    meta: { title: 'Make a gel', station: 'additives' },
  },
  {
    path: '/additives/ladders/new',
    component: () => import('./LadderForm.vue'),
    meta: { title: 'New ladder', station: 'additives' },
  },
  {
    path: '/additives/ladders/:number(\\d+)',
    component: () => import('./LadderView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Ladder', station: 'additives' },
  },
]
