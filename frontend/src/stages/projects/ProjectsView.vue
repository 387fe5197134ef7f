<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { NAlert, NButton, NDataTable, type DataTableColumns } from 'naive-ui'
import { defineAsyncComponent, h, nextTick, ref } from 'vue'
import { RouterLink, useRouter } from 'vue-router'
import { ask, client, sendFile, type Schemas } from '../../api/client'
import { useSession } from '../../api/session'
import FileDrop from '../../desk/FileDrop.vue'
import { money } from '../../desk/numbers'

// Dialogs come when they are first asked for.
const AccountDialog = defineAsyncComponent(() => import('./AccountDialog.vue'))
const NewProject = defineAsyncComponent(() => import('./NewProject.vue'))
const session = useSession()
const router = useRouter()
const queries = useQueryClient()
const { data: projects } = useQuery({
  queryKey: ['projects'],
  queryFn: () => ask(client.GET('/api/projects')),
  staleTime: 0,
})
const { data: invitations } = useQuery({
  queryKey: ['invitations'],
  queryFn: () => ask(client.GET('/api/session/invitations')),
  staleTime: 0,
})
type Brief = Schemas['ProjectBrief']
const columns: DataTableColumns<Brief> = [
  {
    title: 'Project',
    key: 'name',
    render: (p) => h(RouterLink, { to: `/projects/${p.id}/sheets` }, { default: () => p.name }),
  },
  { title: 'Client', key: 'client' },
  { title: 'Sheets', key: 'sheets', align: 'right', className: 'num', width: 80 },
  { title: 'Elements', key: 'elements', align: 'right', className: 'num', width: 90 },
  {
    title: 'Bill total',
    key: 'bill_total',
    align: 'right',
    className: 'num',
    render: (p) => `${money(p.bill_total)} ${p.currency}`,
  },
  { title: 'Your role', key: 'role', width: 100 },
]
const making = ref(false)
const account = ref(false)
const refused = ref('')
const page = ref<HTMLElement>()

async function open(make: () => Promise<Schemas['ProjectView']>) {
  refused.value = ''
  try {
    const project = await make()
    await queries.invalidateQueries({ queryKey: ['projects'] })
    await router.push(`/projects/${project.id}/sheets`)
  } catch (error) {
    refused.value = error instanceof Error ? error.message : String(error)
  }
}
const make = (body: Schemas['NewProject']) => open(() => ask(client.POST('/api/projects', { body })))
const takeIn = (file: File) => open(() => sendFile('/api/projects/from-file', file))
async function answer(invitation: number, taken: boolean) {
  refused.value = ''
  const params = { params: { path: { invitation } } }
  try {
    const mine = taken && (await ask(client.POST('/api/session/invitations/{invitation}', params)))
    if (!taken) await ask(client.DELETE('/api/session/invitations/{invitation}', params))
    // At once: a list that moves up later would take the link away from under the pointer.
    const left = invitations.value?.filter((each) => each.id !== invitation)
    queries.setQueryData(['invitations'], left)
    if (mine) queries.setQueryData(['projects'], mine)
  } catch (error) {
    refused.value = error instanceof Error ? error.message : String(error)
    await queries.invalidateQueries({ queryKey: ['invitations'] })
  }
  await nextTick()
  const places = ['[data-test=invitation] button', 'tbody a', '.head button']
  const next = places.map((place) => page.value?.querySelector<HTMLElement>(place)).find(Boolean)
  next?.focus()
}
async function leave() {
  await session.signOut()
  await router.push('/sign-in')
}
</script>

<template>
  <div class="page">
    <header>
      <h1><img src="/wordmark.svg" alt="" width="26" height="20" /> Sand Scale</h1>
      <span class="quiet"
        ><NButton text type="primary" @click="account = true">{{ session.person?.name }}</NButton>
        <NButton text type="primary" @click="leave">Sign out</NButton></span
      >
    </header>
    <main ref="page">
      <div class="head">
        <h2>Projects</h2>
        <span class="push"></span>
        <FileDrop accept=".json,application/json" test="project-file" @chosen="takeIn"
          ><NButton>Take in a project file</NButton></FileDrop
        >
        <NButton type="primary" @click="making = true">New project</NButton>
      </div>
      <p v-if="refused && !making" class="bad" role="alert">{{ refused }}</p>
      <NAlert
        v-for="each in invitations"
        :key="each.id"
        class="invitation"
        :show-icon="false"
        data-test="invitation"
      >
        <span
          >{{ each.by || 'Someone' }} invites you into <b>{{ each.project }}</b> as its {{ each.role }}.</span
        >
        <NButton size="small" type="primary" @click="answer(each.id, true)">Take it up</NButton>
        <NButton size="small" quaternary @click="answer(each.id, false)">Decline</NButton>
      </NAlert>
      <NDataTable
        v-if="projects?.length"
        size="small"
        :bordered="false"
        :columns="columns"
        :data="projects"
        :row-key="(project: Brief) => project.id"
        :row-props="(project: Brief) => ({ onClick: () => router.push(`/projects/${project.id}/sheets`) })"
      />
      <div v-else-if="projects" class="empty">
        <h2>No projects yet</h2>
        <p>A project is one job: its drawings, what is measured on them, the rates and the bill.</p>
        <p><NButton type="primary" @click="making = true">Make the first one</NButton></p>
      </div>
    </main>
    <AccountDialog v-if="account" @close="account = false" />
    <NewProject v-if="making" :refused="refused" @close="making = false" @make="make" />
  </div>
</template>

<style scoped>
header {
  display: flex;
  align-items: center;
  justify-content: space-between;
  height: 44px;
  padding: 0 14px;
  border-bottom: 1px solid var(--rule);
  background: var(--panel);
}
h1 {
  display: flex;
  gap: 8px;
  align-items: center;
}
main {
  max-width: 1040px;
  margin: 28px auto;
  padding: 0 20px;
}
.head {
  display: flex;
  align-items: center;
  gap: 8px;
  margin-bottom: 10px;
}
.head h2 {
  font-size: 17px;
}
.push {
  flex: 1;
}
header .link {
  margin-left: 12px;
}
.invitation {
  margin-bottom: 10px;
}
.invitation :deep(.n-alert-body__content) {
  display: flex;
  align-items: center;
  gap: 10px;
}
.invitation span:first-child {
  flex: 1;
}
:deep(td) {
  cursor: pointer;
}
:deep(td a) {
  font-weight: 600;
}
</style>
