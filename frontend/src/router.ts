import { createRouter, createWebHistory } from 'vue-router'
import { routes } from './rooms'
import HomeView from './rooms/home/HomeView.vue'

/** A section of a page to scroll to, once what it shows has come; the top where it does not come. */
async function shown(hash: string): Promise<{ el: string; top: number } | { top: number }> {
  for (let n = 0; n < 20; n++) {
    if (document.querySelector(hash)) return { el: hash, top: 8 }
    await new Promise((done) => setTimeout(done, 50))
  }
  return { top: 0 }
}

export const router = createRouter({
  history: createWebHistory(),
  scrollBehavior: async (to, _from, saved) => saved ?? (to.hash ? await shown(to.hash) : { top: 0 }),
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
