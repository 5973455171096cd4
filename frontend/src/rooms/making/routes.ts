import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

const station = 'making'
export const routes: RouteRecordRaw[] = [
  { path: '/making', component: () => import('./MakingIndex.vue'), meta: { title: 'Making', station } },
  {
    path: '/making/new',
    component: () => import('./ProcessForm.vue'),
    meta: { title: 'New process', station },
  },
  {
    path: '/making/waste',
    component: () => import('./WasteBook.vue'),
    meta: { title: 'Waste book', station },
  },
  {
    path: '/making/runs/:number(\\d+)',
    component: () => import('./RunView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Run', station },
  },
  {
    path: '/making/:number(\\d+)',
    component: () => import('./ProcessPage.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Process', station },
  },
  {
    path: '/making/:number(\\d+)/change',
    component: () => import('./ProcessForm.vue'),
    props: (to) => number(to.params),
    meta: { title: 'New version of a process', station },
  },
]
