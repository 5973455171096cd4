import type { RouteRecordRaw } from 'vue-router'
import { number } from '@/kit/routes'

export const routes: RouteRecordRaw[] = [
  {
    path: '/recipes',
    component: () => import('./RecipesIndex.vue'),
    meta: { title: 'Recipes', station: 'recipes' },
  },
  {
    path: '/recipes/new',
    component: () => import('./RecipeForm.vue'),
    meta: { title: 'New recipe', station: 'recipes' },
  },
  {
    path: '/recipes/:number(\\d+)',
    component: () => import('./RecipeView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Recipe', station: 'recipes' },
  },
  {
    path: '/recipes/:number(\\d+)/change',
    component: () => import('./RecipeForm.vue'),
    props: (to) => number(to.params),
    meta: { title: 'New version of recipe', station: 'recipes' },
  },
  {
    path: '/recipes/:number(\\d+)/consistency',
    component: () => import('./ConsistencyView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Consistency of recipe', station: 'recipes' },
  },
  {
    path: '/recipes/:number(\\d+)/again',
    component: () => import('./AgainView.vue'),
    props: (to) => number(to.params),
    meta: { title: 'Same again, recipe', station: 'recipes' },
  },
  {
    path: '/compare',
    component: () => import('./CompareView.vue'),
    meta: { title: 'Compare', station: 'recipes' },
  },
]
