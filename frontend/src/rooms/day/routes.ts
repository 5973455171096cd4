import type { RouteRecordRaw } from 'vue-router'

export const routes: RouteRecordRaw[] = [
  { path: '/day', component: () => import('./DayPage.vue'), meta: { title: 'Today' } },
  {
    path: '/day/:on(\\d{4}-\\d{2}-\\d{2})',
    component: () => import('./DayPage.vue'),
    props: (to) => ({ on: String(to.params.on) }),
    meta: { title: 'Day' },
  },
]
