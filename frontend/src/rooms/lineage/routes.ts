import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

export const routes: RouteRecordRaw[] = [
  {
    path: '/lineage/lots/:number(\\d+)',
    component: () => import('./LineageView.vue'),
    props: (to) => ({ ...number(to.params), of: 'lots' }),
    meta: { title: 'Where a lot went', station: 'stock' },
  },
  {
    path: '/lineage/items/:number(\\d+)',
    component: () => import('./LineageView.vue'),
    props: (to) => ({ ...number(to.params), of: 'items' }),
    meta: { title: 'What is behind it', station: 'shelf' },
  },
]
