import { createRouter, createWebHistory } from 'vue-router'
import HomeView from './rooms/home/HomeView.vue'

declare module 'vue-router' {
  interface RouteMeta {
    title: string
    station?: string
  }
}

const number = (params: Record<string, unknown>) => ({ number: Number(params.number) })

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (_to, _from, saved) => saved ?? { top: 0 },
  routes: [
    { path: '/', component: HomeView, meta: { title: 'Bench' } },
    {
      path: '/stock',
      component: () => import('./rooms/materials/StockView.vue'),
      meta: { title: 'Stock', station: 'stock' },
    },
    {
      path: '/stock/:number(\\d+)',
      component: () => import('./rooms/materials/LotPage.vue'),
      props: (to) => number(to.params),
      meta: { title: 'Lot', station: 'stock' },
    },
    {
      path: '/rub-out',
      component: () => import('./rooms/rubout/RuboutIndex.vue'),
      meta: { title: 'Rub-out', station: 'rubout' },
    },
    {
      path: '/rub-out/:number(\\d+)',
      component: () => import('./rooms/rubout/RuboutView.vue'),
      props: (to) => number(to.params),
      meta: { title: 'Rub-out', station: 'rubout' },
    },
    {
      path: '/pigments/:pigment',
      component: () => import('./rooms/rubout/PigmentPage.vue'),
      props: true,
      meta: { title: 'Pigment', station: 'rubout' },
    },
    {
      path: '/plan',
      component: () => import('./rooms/plan/PlanView.vue'),
      meta: { title: 'Plan', station: 'plan' },
    },
    {
      path: '/slab',
      component: () => import('./rooms/slab/SlabIndex.vue'),
      meta: { title: 'Slab', station: 'slab' },
    },
    {
      path: '/slab/:number(\\d+)',
      component: () => import('./rooms/slab/SlabView.vue'),
      props: (to) => number(to.params),
      meta: { title: 'Slab', station: 'slab' },
    },
    {
      path: '/checks',
      component: () => import('./rooms/checks/ChecksIndex.vue'),
      meta: { title: 'Check', station: 'check' },
    },
    {
      path: '/checks/:number(\\d+)',
      component: () => import('./rooms/checks/CheckView.vue'),
      props: (to) => number(to.params),
      meta: { title: 'Check', station: 'check' },
    },
    {
      path: '/recipes',
      component: () => import('./rooms/recipes/RecipesIndex.vue'),
      meta: { title: 'Recipes', station: 'recipes' },
    },
    {
      path: '/recipes/new',
      component: () => import('./rooms/recipes/RecipeForm.vue'),
      meta: { title: 'New recipe', station: 'recipes' },
    },
    {
      path: '/recipes/:number(\\d+)',
      component: () => import('./rooms/recipes/RecipeView.vue'),
      props: (to) => number(to.params),
      meta: { title: 'Recipe', station: 'recipes' },
    },
    {
      path: '/recipes/:number(\\d+)/change',
      component: () => import('./rooms/recipes/RecipeForm.vue'),
      props: (to) => number(to.params),
      meta: { title: 'New version of recipe', station: 'recipes' },
    },
    {
      path: '/recipes/:number(\\d+)/consistency',
      component: () => import('./rooms/recipes/ConsistencyView.vue'),
      props: (to) => number(to.params),
      meta: { title: 'Consistency of recipe', station: 'recipes' },
    },
    {
      path: '/recipes/:number(\\d+)/again',
      component: () => import('./rooms/recipes/AgainView.vue'),
      props: (to) => number(to.params),
      meta: { title: 'Same again, recipe', station: 'recipes' },
    },
    {
      path: '/compare',
      component: () => import('./rooms/recipes/CompareView.vue'),
      meta: { title: 'Compare', station: 'recipes' },
    },
    {
      path: '/tubes',
      component: () => import('./rooms/tubes/TubesIndex.vue'),
      meta: { title: 'Tubes', station: 'tubes' },
    },
    {
      path: '/tubes/:number(\\d+)',
      component: () => import('./rooms/tubes/FillView.vue'),
      props: (to) => number(to.params),
      meta: { title: 'Fill batch', station: 'tubes' },
    },
    {
      path: '/labels',
      component: () => import('./rooms/tubes/LabelsView.vue'),
      meta: { title: 'Labels', station: 'tubes' },
    },
    {
      path: '/cost',
      component: () => import('./rooms/tubes/CostView.vue'),
      meta: { title: 'Cost', station: 'tubes' },
    },
    {
      path: '/shelf',
      component: () => import('./rooms/shelf/ShelfView.vue'),
      meta: { title: 'Shelf', station: 'shelf' },
    },
    {
      path: '/shelf/found',
      component: () => import('./rooms/shelf/FoundView.vue'),
      meta: { title: 'A found jar', station: 'shelf' },
    },
    {
      path: '/shelf/:number(\\d+)',
      component: () => import('./rooms/shelf/ItemView.vue'),
      props: (to) => number(to.params),
      meta: { title: 'Tube or jar', station: 'shelf' },
    },
    {
      path: '/additives',
      component: () => import('./rooms/additives/AdditivesIndex.vue'),
      meta: { title: 'Additives', station: 'additives' },
    },
    {
      path: '/additives/body',
      component: () => import('./rooms/additives/IntentView.vue'),
      meta: { title: 'Body by intent', station: 'additives' },
    },
    {
      path: '/additives/gel',
      component: () => import('./rooms/additives/GelView.vue'),
      meta: { title: 'Make a gel', station: 'additives' },
    },
    {
      path: '/additives/ladders/new',
      component: () => import('./rooms/additives/LadderForm.vue'),
      meta: { title: 'New ladder', station: 'additives' },
    },
    {
      path: '/additives/ladders/:number(\\d+)',
      component: () => import('./rooms/additives/LadderView.vue'),
      props: (to) => number(to.params),
      meta: { title: 'Ladder', station: 'additives' },
    },
    {
      path: '/batches',
      component: () => import('./rooms/batches/BatchList.vue'),
      meta: { title: 'Batches', station: 'batches' },
    },
    {
      path: '/batches/:number(\\d+)',
      component: () => import('./rooms/batches/BatchPage.vue'),
      props: (to) => number(to.params),
      meta: { title: 'Batch', station: 'batches' },
    },
    {
      path: '/workshop',
      component: () => import('./rooms/workshop/WorkshopView.vue'),
      meta: { title: 'Workshop', station: 'workshop' },
    },
    { path: '/:rest(.*)*', component: () => import('./kit/NotFound.vue'), meta: { title: 'Nothing here' } },
  ],
})

router.afterEach((to) => {
  const which = to.params.number ? ` ${String(to.params.number)}` : ''
  document.title = `${to.meta.title}${which} - Niddy`
})
