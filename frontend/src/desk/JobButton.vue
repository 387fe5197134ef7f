<script setup lang="ts">
// A file that takes a while: asked for, watched, taken when it is there; it can be stopped, and the rest goes on meanwhile.
import { NButton, NProgress } from 'naive-ui'
import { onBeforeUnmount, ref } from 'vue'
import { ask, client, type Schemas } from '../api/client'
import { useProjectId } from '../api/project'
import { useNotices } from './notices'

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
const notices = useNotices()
const job = ref<Schemas['JobView'] | null>(null)
let timer: ReturnType<typeof setTimeout> | undefined
onBeforeUnmount(() => clearTimeout(timer))

const path = (id: number) => ({ params: { path: { project_id: project.value, job: id } } })
async function begin() {
  if (job.value) return
  try {
    job.value = await (props.send
      ? props.send()
      : ask(
          client.POST('/api/projects/{project_id}/jobs', {
            params: { path: { project_id: project.value } },
            body: { kind: props.kind!, sheet: props.sheet ?? null, ...props.asks },
          }),
        ))
    watchOver()
  } catch (error) {
    job.value = null
    notices.show(error)
  }
}
function watchOver() {
  timer = setTimeout(async () => {
    const now = job.value
    if (!now) return
    try {
      job.value = await ask(client.GET('/api/projects/{project_id}/jobs/{job}', path(now.id)))
    } catch (error) {
      notices.show(error)
    }
    const { state, said, id } = job.value!
    if (state === 'waiting' || state === 'running') return watchOver()
    job.value = null
    if (state === 'done' && props.send) emit('done')
    else if (state === 'done') take(id)
    else if (state === 'failed') notices.show({ sentence: said, remedy: '' })
  }, 350)
}
function take(id: number) {
  const link = document.createElement('a')
  link.href = `/api/projects/${project.value}/jobs/${id}/file`
  link.download = ''
  link.click()
}
async function stop() {
  if (job.value) await ask(client.DELETE('/api/projects/{project_id}/jobs/{job}', path(job.value.id)))
}
</script>

<template>
  <span v-if="job" class="job" role="status">
    <NProgress
      class="done"
      type="line"
      :percentage="Math.round(job.done * 100)"
      :show-indicator="false"
      :height="4"
    />
    {{ job.state === 'waiting' ? 'waiting' : `${Math.round(job.done * 100)} %` }}
    <NButton text type="primary" @click="stop">stop</NButton>
  </span>
  <NButton v-else-if="plain" text :disabled="disabled" @click="begin"><slot /></NButton>
  <NButton v-else :type="primary ? 'primary' : 'default'" :disabled="disabled" @click="begin"
    ><slot
  /></NButton>
</template>

<style scoped>
.job {
  display: flex;
  align-items: center;
  gap: 8px;
  height: 30px;
}
.done {
  width: 110px;
}
</style>
