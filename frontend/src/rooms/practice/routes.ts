import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

const station = 'practice'
export const routes: RouteRecordRaw[] = [
  { path: '/practice', component: () => import('./PracticeIndex.vue'), meta: { title: 'Practice', station } },
  { path: '/practice/eye', component: () => import('./EyeView.vue'), meta: { title: 'Your eye', station } },
  {
    path: '/practice/judging/:number(\\d+)',
    component: () => import('./JudgingView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Name the body', station },
  },
  {
    path: '/practice/:number(\\d+)',
    component: () => import('@/rooms/slab/SlabView.vue'),
    props: (to) => ({ ...number(to.params), room: 'practice' }),
    meta: { title: 'Practice', station },
  },
]
