import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

const station = 'mixing'
export const routes: RouteRecordRaw[] = [
  { path: '/mixing', component: () => import('./MixingIndex.vue'), meta: { title: 'Colour', station } },
  {
    path: '/mixing/find',
    component: () => import('./FindView.vue'),
    meta: { title: 'Find a mixture', station },
  },
  {
    path: '/mixing/charts/new',
    component: () => import('./ChartForm.vue'),
    meta: { title: 'New chart', station },
  },
  {
    path: '/mixing/charts/:number(\\d+)',
    component: () => import('./ChartView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Chart', station },
  },
  {
    path: '/mixing/paints/:number(\\d+)',
    component: () => import('./PaintView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Paint in numbers', station },
  },
]
