import { createRouter, createWebHistory } from 'vue-router'
import { routes } from './rooms'
import HomeView from './rooms/home/HomeView.vue'

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: (_to, _from, saved) => saved ?? { top: 0 },
  routes: [
    { path: '/', component: HomeView, meta: { title: 'Bench' } },
    ...routes,
    { path: '/:rest(.*)*', component: () => import('./kit/NotFound.vue'), meta: { title: 'Nothing here' } },
  ],
})

router.afterEach((to) => {
  const which = to.params.number ? ` ${String(to.params.number)}` : ''
  document.title = `${to.meta.title}${which} - Niddy`
})
