// A job that takes a while: begun, watched, stopped.
import { onBeforeUnmount, ref } from 'vue'
import { ask, client, Problem, type Schemas } from '../api/client'
import { useProjectId } from '../api/project'
import { useNotices } from './notices'

type Job = Schemas['JobView']

/** `done` is told the job once it has come to its end; one that failed is told to the person. */
export function useJob(done: (job: Job) => void) {
  const project = useProjectId()
  const notices = useNotices()
  const job = ref<Job | null>(null)
  let timer: ReturnType<typeof setTimeout> | undefined
  onBeforeUnmount(() => clearTimeout(timer))
  const path = (id: number) => ({ params: { path: { project_id: project.value, job: id } } })

  async function begin(send: () => Promise<Job>): Promise<void> {
    if (job.value) return
    try {
      job.value = await send()
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
      const ended = job.value!
      if (ended.state === 'waiting' || ended.state === 'running') return watchOver()
      job.value = null
      if (ended.state === 'done') done(ended)
      else if (ended.state === 'failed') notices.show(new Problem(ended.said))
    }, 350)
  }
  async function stop() {
    if (job.value) await ask(client.DELETE('/api/projects/{project_id}/jobs/{job}', path(job.value.id)))
  }
  return { job, begin, stop }
}
