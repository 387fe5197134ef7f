<script setup lang="ts">
import { NButton } from 'naive-ui'
import { useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn, useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client } from '../api/client'
import { keys } from '../api/keys'
import { useProject, useSave } from '../api/project'
import { useSession } from '../api/session'
import CheckList from './CheckList.vue'
import Hints from './Hints.vue'
import NoticeBar from './NoticeBar.vue'
import Present from './Present.vue'
import { useNotices } from './notices'
import { roundBy } from './numbers'
import { writeAs } from './ways'
import TallyStrip from './TallyStrip.vue'
import { usePulse } from './pulse'
import { useTally } from './tally'
import { useWalkStore } from './walk'
import WorkingPanel from './WorkingPanel.vue'

// Dialogs come when they are first asked for: the frame stands without them.
const ClashDialog = defineAsyncComponent(() => import('./ClashDialog.vue'))
const FindDialog = defineAsyncComponent(() => import('./FindDialog.vue'))
const KeysDialog = defineAsyncComponent(() => import('./KeysDialog.vue'))
const WhichNumber = defineAsyncComponent(() => import('./WhichNumber.vue'))
const ProjectDialog = defineAsyncComponent(() => import('./ProjectDialog.vue'))

const names: Record<string, string> = {
  sheets: 'Sheets',
  measure: 'Measure',
  bars: 'Bars',
  ground: 'Ground',
  prices: 'Prices',
  rates: 'Rates',
  bill: 'Bill',
  order: 'Order',
  issue: 'Issue',
}
const route = useRoute()
const router = useRouter()
const session = useSession()
const tally = useTally()
const walk = useWalkStore()
const notices = useNotices()
const queries = useQueryClient()
const { data: project, error } = useProject()
const { save, projectId } = useSave()
const finding = ref(false)
const keysShown = ref(false)
const settings = ref(false)

const path = computed(() =>
  (project.value?.path ?? []).map((stage) => ({
    ...stage,
    name: names[stage.stage],
    share: stage.of ? stage.done / stage.of : 0,
    here: route.meta.stage === stage.stage,
  })),
)
const initials = computed(() =>
  (session.person?.name ?? '')
    .split(' ')
    .map((word) => word[0])
    .join(''),
)

usePulse(
  projectId,
  computed(() => Boolean(project.value)),
  () => project.value?.change ?? 0,
)
// What is kept of a project is gone once it is left: nothing keeps it up to date from then on, and nothing
// of it shows in another.
function leaveProject(id: number) {
  queries.removeQueries({ queryKey: keys.project(id) })
  tally.close()
  notices.clear()
  walk.focus = ''
  writeAs()
}
watch(projectId, (_, was) => leaveProject(was), { flush: 'sync' })
onBeforeUnmount(() => leaveProject(projectId.value))

watch(
  () => project.value?.id,
  () => project.value && tally.open(project.value.id, project.value.bill_total),
  { immediate: true },
)
watch(
  () => project.value?.rounding,
  (rules) => rules && roundBy(rules),
  { immediate: true },
)
// In other ways all that was read stands otherwise.
watch(
  () => project.value && [project.value.id, project.value.unit_system, project.value.numbers].join('|'),
  (now, before) => {
    writeAs(project.value)
    if (before && now?.split('|')[0] === before.split('|')[0])
      void queries.invalidateQueries({ queryKey: keys.project(projectId.value) })
  },
  { immediate: true, flush: 'sync' },
)
// How far the path is and how many checks there are is counted over the project, so not at each keystroke.
const counted = useDebounceFn(() => {
  for (const key of [
    keys.whole(projectId.value),
    keys.checks(projectId.value),
    keys.history(projectId.value),
  ])
    void queries.invalidateQueries({ queryKey: key })
}, 700)
watch(
  () => [tally.lastChange, tally.heardChange],
  () => void counted(),
)
watch(
  () => route.query.at,
  (at) => typeof at === 'string' && walk.look(at),
  { immediate: true },
)

useEventListener('keydown', (event) => {
  const typing = event.target instanceof HTMLInputElement || event.target instanceof HTMLTextAreaElement
  const control = event.ctrlKey || event.metaKey
  if (control && event.key.toLowerCase() === 'k') {
    event.preventDefault()
    finding.value = true
  } else if (control && event.key.toLowerCase() === 'z' && !typing) {
    event.preventDefault()
    void step(event.shiftKey ? 'redo' : 'undo')
  } else if (event.key === '?' && !typing) {
    keysShown.value = true
  }
})

// Leaving while something is still being saved asks first.
useEventListener('beforeunload', (event) => tally.writing && event.preventDefault())

function step(which: 'undo' | 'redo') {
  const params = { params: { path: { project_id: projectId.value } } }
  return save(() =>
    ask(
      which === 'undo'
        ? client.POST('/api/projects/{project_id}/undo', params)
        : client.POST('/api/projects/{project_id}/redo', params),
    ),
  )
}
async function leave() {
  await session.signOut()
  await router.push('/sign-in')
}
</script>

<template>
  <div v-if="error" class="empty" role="alert">
    <h2>{{ error.message }}</h2>
    <p><RouterLink to="/projects">To your projects</RouterLink></p>
  </div>
  <div
    v-else-if="project"
    class="frame"
    :class="{ folded: walk.folded, alone: route.meta.alone, 'list-folded': walk.listFolded }"
  >
    <header>
      <RouterLink to="/projects" class="wordmark" title="All projects"
        ><img src="/wordmark.svg" alt="" width="26" height="20" /> Sand Scale</RouterLink
      >
      <NButton
        text
        class="laid project"
        :title="`${project.client}. Settings and people`"
        @click="settings = true"
      >
        {{ project.name }}
      </NButton>
      <nav aria-label="Stages">
        <RouterLink
          v-for="stage in path"
          :key="stage.stage"
          :to="`/projects/${project.id}/${stage.stage}`"
          :class="{ here: stage.here }"
          :aria-current="stage.here ? 'page' : undefined"
          :title="`${stage.done} of ${stage.of} done`"
        >
          {{ stage.name }}<i><b :style="{ width: `${stage.share * 100}%` }"></b></i>
        </RouterLink>
      </nav>
      <div class="right">
        <span v-if="project.role === 'viewer'" class="quiet">looking only</span>
        <CheckList />
        <Present />
        <NButton text title="Undo your last change (Ctrl+Z)" aria-label="Undo" @click="step('undo')">
          Undo
        </NButton>
        <NButton
          text
          title="Do again what you took back (Ctrl+Shift+Z)"
          aria-label="Redo"
          @click="step('redo')"
        >
          Redo
        </NButton>
        <NButton text @click="finding = true">Find <kbd>Ctrl K</kbd></NButton>
        <NButton text aria-label="Keys of this screen" @click="keysShown = true">
          <kbd>?</kbd>
        </NButton>
        <NButton
          text
          class="person"
          :title="`${session.person?.name}. Sign out`"
          :aria-label="`${initials}, ${session.person?.name}: sign out`"
          @click="leave"
        >
          {{ initials }}
        </NButton>
      </div>
    </header>
    <main><RouterView :key="project.id" /></main>
    <WorkingPanel v-if="!route.meta.alone" />
    <NoticeBar />
    <TallyStrip :currency="project.currency" :writer="project.role !== 'viewer'" />
    <FindDialog v-if="finding" @close="finding = false" />
    <ProjectDialog v-if="settings" :project="project" @close="settings = false" />
    <KeysDialog v-if="keysShown" @close="keysShown = false" />
    <ClashDialog v-if="notices.clash" />
    <WhichNumber v-if="notices.unsure" />
    <Hints />
  </div>
</template>

<style scoped>
.frame {
  display: grid;
  grid: 44px minmax(0, 1fr) 30px / minmax(0, 1fr) 340px;
  grid-template-areas: 'head head' 'desk working' 'tally tally';
  height: 100%;
}
.frame.alone {
  grid-template-columns: minmax(0, 1fr) 0;
}
.frame.folded {
  grid-template-columns: minmax(0, 1fr) 28px;
}
@media (max-width: 1220px) {
  .frame:not(.folded, .alone) {
    grid-template-columns: minmax(0, 1fr) 300px;
  }
}
header {
  grid-area: head;
  display: flex;
  align-items: stretch;
  gap: 14px;
  padding: 0 14px;
  background: var(--panel);
  border-bottom: 1px solid var(--rule);
  white-space: nowrap;
}
header > * {
  display: flex;
  align-items: center;
}
.wordmark {
  gap: 8px;
  color: var(--ink);
  font-weight: 600;
  text-decoration: none;
}
.project.laid {
  display: block;
  flex: 0 1 auto;
  padding-left: 14px;
  margin: 12px 0;
  border-left: 1px solid var(--rule);
  color: var(--quiet);
  overflow: hidden;
  text-overflow: ellipsis;
  min-width: 60px;
}
nav {
  gap: 4px;
}
nav a {
  position: relative;
  display: flex;
  align-items: center;
  height: 44px;
  padding: 0 8px;
  color: var(--quiet);
  text-decoration: none;
}
nav a:hover {
  color: var(--ink);
}
nav i {
  position: absolute;
  inset: auto 8px 5px;
  height: 2px;
  background: var(--rule);
}
nav b {
  display: block;
  height: 100%;
  background: var(--main);
}
nav a.here {
  color: var(--ink);
  font-weight: 600;
  box-shadow: inset 0 -3px var(--accent);
}
.right {
  gap: 12px;
  margin-left: auto;
}
.person {
  width: 26px;
  height: 26px;
  padding: 0;
  border: 1px solid var(--rule);
  border-radius: 50%;
  background: var(--main-soft);
  color: var(--main);
  font-size: 11px;
  font-weight: 600;
  cursor: pointer;
}
main {
  grid-area: desk;
  min-height: 0;
  min-width: 0;
}
</style>
