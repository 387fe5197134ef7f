// Walking a number: the one in focus, and going to where another stands.
import { useMediaQuery } from '@vueuse/core'
import { defineStore } from 'pinia'
import { ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import type { Schemas } from '../api/client'

/** Where a number of the ground stands: its earthwork's page, or its own. */
function groundPlace(link: Schemas['WalkLink']): string {
  if (link.target !== null) return `/earthwork/${link.target}`
  const [kind, id] = link.ref.split(':')
  return `/${kind}/${id}`
}

export const useWalkStore = defineStore('walk', () => {
  const router = useRouter()
  const focus = ref('')
  const folded = ref(false)
  // Panes fold before columns do; once it is wider, they are there again.
  const narrow = useMediaQuery('(max-width: 1180px)')
  const listFolded = ref(narrow.value)
  watch(narrow, (now) => (listFolded.value = now))

  /** Put a number into the working column. */
  function look(ref_: string): void {
    focus.value = ref_
  }
  /** Put a number into the working column unless one was walked to. */
  function offer(ref_: string): void {
    if (!router.currentRoute.value.query.at) focus.value = ref_
  }
  /** Go to where a number stands, and put it into the working column. */
  async function go(project: number, link: Schemas['WalkLink']): Promise<void> {
    focus.value = link.ref
    const target = link.target === null ? '' : `/${link.target}`
    const path =
      link.stage === 'bill' || link.stage === 'order'
        ? `/projects/${project}/${link.stage}`
        : link.stage === 'ground'
          ? `/projects/${project}/ground${groundPlace(link)}`
          : `/projects/${project}/${link.stage}${link.ref.startsWith('answer:') ? '/enquiry' : ''}${target}`
    await router.push({ path, query: { at: link.ref } })
  }
  return { focus, folded, listFolded, look, offer, go }
})
