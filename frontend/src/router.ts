// The addresses: projects, then the stages of one in the order of the work.
import { createRouter, createWebHistory, type RouteLocationNormalized } from 'vue-router'
import { useSession } from './api/session'

const stages = [
  {
    path: 'sheets/:sheet(\\d+)?',
    component: () => import('./stages/sheets/SheetsView.vue'),
    meta: { stage: 'sheets' },
  },
  {
    path: 'measure/:element(\\d+)?',
    component: () => import('./stages/measure/MeasureView.vue'),
    meta: { stage: 'measure' },
  },
  {
    path: 'make-ups/:makeup?',
    component: () => import('./stages/makeups/MakeUpsView.vue'),
    meta: { stage: 'measure', alone: true },
  },
  {
    path: 'prices/:resource(\\d+)?',
    component: () => import('./stages/prices/PricesView.vue'),
    meta: { stage: 'prices' },
  },
  {
    path: 'rates/:rate(\\d+)?',
    component: () => import('./stages/rates/RatesView.vue'),
    meta: { stage: 'rates' },
  },
  { path: 'bill', component: () => import('./stages/bill/BillView.vue'), meta: { stage: 'bill' } },
  { path: 'issue', component: () => import('./stages/issue/IssueView.vue'), meta: { stage: 'issue' } },
]

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/', redirect: '/projects' },
    { path: '/sign-in', component: () => import('./stages/sign_in/SignInView.vue'), meta: { open: true } },
    {
      path: '/invited/:token',
      component: () => import('./stages/sign_in/InvitedView.vue'),
      meta: { open: true },
    },
    { path: '/projects', component: () => import('./stages/projects/ProjectsView.vue') },
    {
      path: '/projects/:project(\\d+)',
      component: () => import('./desk/Frame.vue'),
      children: [{ path: '', redirect: (to) => `/projects/${String(to.params.project)}/sheets` }, ...stages],
    },
    { path: '/:anything(.*)', redirect: '/projects' },
  ],
})

/** Scripts of a page are on their way while it is asked who is signed in. */
function fetchAhead(to: RouteLocationNormalized) {
  for (const { components } of to.matched) {
    const view = components?.default as unknown
    if (typeof view === 'function') void (view as () => Promise<unknown>)().catch(() => undefined)
  }
}

router.beforeEach(async (to) => {
  const session = useSession()
  if (!session.known) fetchAhead(to)
  if (!session.known) await session.load().catch(() => undefined)
  if (!session.person && !to.meta.open) return { path: '/sign-in', query: { to: to.fullPath } }
  return true
})
