import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

const station = 'sticks'
export const routes: RouteRecordRaw[] = [
  { path: '/sticks', component: () => import('./SticksIndex.vue'), meta: { title: 'Sticks', station } },
  {
    path: '/sticks/plan',
    component: () => import('./SetPlan.vue'),
    meta: { title: 'Plan of a set', station },
  },
  {
    path: '/sticks/bases/new',
    component: () => import('./BaseForm.vue'),
    meta: { title: 'New base', station },
  },
  {
    path: '/sticks/bases/beside',
    component: () => import('./BasesBeside.vue'),
    meta: { title: 'Bases side by side', station },
  },
  {
    path: '/sticks/bases/:number(\\d+)',
    component: () => import('./BasePage.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Base', station },
  },
  {
    path: '/sticks/bases/:number(\\d+)/change',
    component: () => import('./BaseForm.vue'),
    props: (to) => number(to.params),
    meta: { title: 'New version of a base', station },
  },
  {
    path: '/sticks/recipes/:number(\\d+)',
    component: () => import('./StickRecipe.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Recipe of a stick', station },
  },
  {
    path: '/sticks/:number(\\d+)',
    component: () => import('./PotView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Pot', station },
  },
]
