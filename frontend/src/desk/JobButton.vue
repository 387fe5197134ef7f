<script setup lang="ts">
// A file that takes a while: asked for, watched, taken when it is there; it can be stopped, and the rest goes on meanwhile.
import { NButton } from 'naive-ui'
import { ask, client, type Schemas } from '../api/client'
import { useProjectId } from '../api/project'
import { useJob } from './job'
import JobProgress from './JobProgress.vue'

const props = defineProps<{
  kind?: Schemas['NewJob']['kind']
  /** What begins it, where it isn't a file that is asked for and taken. */
  send?: () => Promise<Schemas['JobView']>
  disabled?: boolean
  sheet?: number
  /** What else is asked of it. */
  asks?: Partial<Omit<Schemas['NewJob'], 'kind' | 'sheet'>>
  plain?: boolean
  primary?: boolean
}>()
const emit = defineEmits<{ done: [] }>()
const project = useProjectId()
const { job, begin, stop } = useJob(({ id }) => (props.send ? emit('done') : take(id)))

const asked = () =>
  ask(
    client.POST('/api/projects/{project_id}/jobs', {
      params: { path: { project_id: project.value } },
      body: { kind: props.kind!, sheet: props.sheet ?? null, ...props.asks },
    }),
  )
function take(id: number) {
  const link = document.createElement('a')
  link.href = `/api/projects/${project.value}/jobs/${id}/file`
  link.download = ''
  link.click()
}
const start = () => begin(props.send ?? asked)
</script>

<template>
  <JobProgress v-if="job" :job="job" @stop="stop" />
  <NButton v-else-if="plain" text :disabled="disabled" @click="start"><slot /></NButton>
  <NButton v-else :type="primary ? 'primary' : 'default'" :disabled="disabled" @click="start"
    ><slot
  /></NButton>
</template>
