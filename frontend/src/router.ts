// The addresses: projects, then the stages of one in the order of the work.
import { createRouter, createWebHistory, type RouteLocationNormalized, type RouteRecordRaw } from 'vue-router'
import { queries } from './api/queries'
import { reading, type Ask } from './api/reading'
import { useSession } from './api/session'

declare module 'vue-router' {
  interface RouteMeta {
    opensOn?: (keyof typeof reading)[] // what is asked ahead; of one of many, the one the address names
  }
}

const stages: RouteRecordRaw[] = [
  {
    path: 'sheets/:sheet(\\d+)?',
    component: () => import('./stages/sheets/SheetsView.vue'),
    meta: { stage: 'sheets', opensOn: ['drawings', 'sheet'] },
  },
  {
    path: 'sheets/:sheet(\\d+)/changes',
    component: () => import('./stages/sheets/ChangesDesk.vue'),
    meta: { stage: 'sheets', opensOn: ['drawings', 'sheet'] },
  },
  {
    path: 'sheets/revision/:revision(\\d+)',
    component: () => import('./stages/sheets/RevisedDesk.vue'),
    meta: { stage: 'sheets', opensOn: ['drawings'] },
  },
  {
    path: 'measure/:element(\\d+)?',
    component: () => import('./stages/measure/MeasureView.vue'),
    meta: { stage: 'measure', opensOn: ['element', 'drawings', 'locations'] },
  },
  {
    path: 'make-ups/:makeup?',
    component: () => import('./stages/makeups/MakeUpsView.vue'),
    meta: { stage: 'measure', alone: true },
  },
  {
    path: 'bars/:part(cutting|summary|rules)?',
    component: () => import('./stages/bars/BarsView.vue'),
    meta: { stage: 'bars', opensOn: ['schedule'] },
  },
  {
    path: 'ground/:what(survey|surface|earthwork|trench|trench-kind|route|typical|whole)?/:one(\\d+)?',
    component: () => import('./stages/ground/GroundView.vue'),
    meta: { stage: 'ground', opensOn: ['ground'] },
  },
  {
    path: 'prices/:resource(\\d+)?',
    component: () => import('./stages/prices/PricesView.vue'),
    meta: { stage: 'prices', opensOn: ['resources'] },
  },
  {
    path: 'prices/enquiry/:enquiry(\\d+)',
    component: () => import('./stages/prices/PricesView.vue'),
    meta: { stage: 'prices', opensOn: ['resources'] },
  },
  {
    path: 'rates/:buildUp(\\d+)?',
    component: () => import('./stages/rates/RatesView.vue'),
    meta: { stage: 'rates', opensOn: ['buildUp', 'resources'] },
  },
  {
    path: 'rates/allowance/:allowance(\\d+)',
    component: () => import('./stages/rates/RatesView.vue'),
    meta: { stage: 'rates' },
  },
  {
    path: 'bill/:what(compared|report|makes|matches|trials)?',
    component: () => import('./stages/bill/BillView.vue'),
    meta: { stage: 'bill', opensOn: ['bill'] },
  },
  {
    path: 'order/:order(\\d+)?',
    component: () => import('./stages/order/OrderView.vue'),
    meta: { stage: 'order' },
  },
  {
    path: 'issue/:what(package|form|tables)?/:one(\\d+|new)?',
    component: () => import('./stages/issue/IssueView.vue'),
    meta: { stage: 'issue' },
  },
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
/** So is what it opens on: the project first, since what changes after it was read is heard of. */
async function readAhead({ params, meta }: RouteLocationNormalized) {
  const project = Number(params.project)
  if (!project) return
  const ahead = (read: (project: number, one: number) => Ask<unknown>, one = 0) =>
    queries.prefetchQuery(read(project, one))
  await ahead(reading.whole)
  if (!queries.getQueryData(reading.whole(project).queryKey)) return
  for (const what of meta.opensOn ?? []) {
    const one = Number(params[what])
    if (one || !(what in params)) void ahead(reading[what], one)
  }
}

router.beforeEach(async (to) => {
  const session = useSession()
  if (!session.known) {
    fetchAhead(to)
    void readAhead(to)
    await session.load().catch(() => undefined)
  }
  if (!session.person && !to.meta.open) return { path: '/sign-in', query: { to: to.fullPath } }
  return true
})
