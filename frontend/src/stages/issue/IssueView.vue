<script setup lang="ts">
// What goes out: documents, packages, forms of one's own and live tables; and what was done.
import { NButton } from 'naive-ui'
import { computed, defineAsyncComponent } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { sendFile, type Schemas } from '../../api/client'
import { useForms, usePackages } from '../../api/issue'
import { useProject, useSave } from '../../api/project'
import FileDrop from '../../desk/FileDrop.vue'
import ListPane from '../../desk/ListPane.vue'
import Stage from '../../desk/Stage.vue'
import { day } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import DocumentsDesk from './DocumentsDesk.vue'

const FormDesk = defineAsyncComponent(() => import('./FormDesk.vue'))
const LiveDesk = defineAsyncComponent(() => import('./LiveDesk.vue'))
const NewPackage = defineAsyncComponent(() => import('./NewPackage.vue'))
const PackageDesk = defineAsyncComponent(() => import('./PackageDesk.vue'))

const route = useRoute()
const router = useRouter()
const { save, projectId } = useSave()
const { data: project } = useProject()
const { data: issued, refetch } = usePackages()
const { data: forms } = useForms()
const readonly = computed(() => project.value?.role === 'viewer')
const home = computed(() => `/projects/${projectId.value}/issue`)
const what = computed(() => String(route.params.what ?? ''))
const one = computed(() => Number(route.params.one) || 0)
useWalkStore().offer('bill')
const lists = computed(() => [
  {
    key: 'out',
    title: 'Goes out',
    entries: [
      { id: 'documents', name: 'Documents', to: home.value },
      ...(readonly.value ? [] : [{ id: 'tables', name: 'Live tables', to: `${home.value}/tables` }]),
    ],
  },
  {
    key: 'packages',
    title: 'Packages',
    empty: 'none issued yet',
    entries: (issued.value?.packages ?? []).map((each) => ({
      id: `package ${each.id}`,
      mark: String(each.number),
      name: each.title,
      value: day(each.issued_on, true),
      to: `${home.value}/package/${each.id}`,
    })),
  },
  {
    key: 'forms',
    title: 'Forms of our own',
    empty: 'XLSX, filled with numbers from here',
    entries: (forms.value ?? []).map((each) => ({
      id: `form ${each.id}`,
      name: each.name,
      value: `${each.cells} tied`,
      to: `${home.value}/form/${each.id}`,
    })),
  },
])
const chosen = computed(() => (one.value ? `${what.value} ${one.value}` : what.value || 'documents'))
async function made() {
  const { data } = await refetch()
  const last = data?.packages[0]
  if (last) await router.push(`${home.value}/package/${last.id}`)
}
async function addForm(file: File) {
  const body = new FormData()
  body.append('file', file)
  const saved = await save(() => sendFile<Schemas['Answer']>(`/api/projects/${projectId.value}/forms`, body))
  if (saved) await router.push(`${home.value}/form/${saved.id}`)
}
</script>

<template>
  <Stage label="Issue">
    <template #list>
      <ListPane find="Find a package or form" :groups="lists" :chosen="chosen">
        <template #group="{ group }">
          <NButton
            v-if="group.key === 'packages' && !readonly"
            text
            type="primary"
            @click="router.push(`${home}/package/new`)"
            >Issue one</NButton
          >
          <FileDrop
            v-else-if="group.key === 'forms' && !readonly"
            accept=".xlsx"
            test="form-file"
            @chosen="addForm"
          >
            <NButton text type="primary">Add one</NButton>
          </FileDrop>
        </template>
      </ListPane>
    </template>
    <LiveDesk v-if="what === 'tables'" />
    <FormDesk v-else-if="what === 'form' && one" :key="one" :form="one" :readonly="readonly" />
    <PackageDesk
      v-else-if="what === 'package' && one"
      :key="one"
      :package-id="one"
      :packages="issued?.packages ?? []"
      :readonly="readonly"
    />
    <NewPackage
      v-else-if="what === 'package' && issued && !readonly"
      :choices="issued.choices"
      @done="made"
    />
    <DocumentsDesk v-else />
  </Stage>
</template>
