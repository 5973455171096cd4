import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

export const routes: RouteRecordRaw[] = [
  {
    path: '/tubes',
    component: () => import('./TubesIndex.vue'),
    meta: { title: 'Tubes', station: 'tubes' },
  },
  {
    path: '/tubes/:number(\\d+)',
    component: () => import('./FillView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Fill batch', station: 'tubes' },
  },
  {
    path: '/labels',
    component: () => import('./LabelsView.vue'),
    meta: { title: 'Labels', station: 'tubes' },
  },
  {
    path: '/cost',
    component: () => import('./CostView.vue'),
    meta: { title: 'Cost', station: 'tubes' },
  },
]
