<script setup lang="ts">
// The number in the working column, for the cell of a form that waits for one.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client } from '../api/client'
import { useSave } from '../api/project'
import { useTying } from './tying'

const props = defineProps<{ number: string }>()
const route = useRoute()
const router = useRouter()
const tying = useTying()
const { save, projectId } = useSave()
const waiting = computed(() =>
  tying.waiting?.project === projectId.value && !route.path.includes('/issue/form/') ? tying.waiting : null,
)
const back = (form: number, at: string) =>
  router.push({ path: `/projects/${projectId.value}/issue/form/${form}`, query: { cell: at } })
async function tie() {
  const { form, place } = waiting.value!
  const done = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/forms/{own_form}/cells', {
        params: { path: { project_id: projectId.value, own_form: form } },
        body: { place, ref: props.number },
      }),
    ),
  )
  if (done) await back(form, place)
}
function leave() {
  const { form, place } = waiting.value!
  void back(form, place)
}
</script>

<template>
  <div v-if="waiting" class="waiting" role="region" aria-label="A cell waits for its number">
    <p>
      <b>{{ waiting.place }}</b> of {{ waiting.name }} waits for a number.
    </p>
    <NButton type="primary" size="small" :disabled="!number" @click="tie">Tie this one</NButton>
    <NButton size="small" @click="leave">Leave it</NButton>
  </div>
</template>

<style scoped>
.waiting {
  margin: 28px 16px 0 12px;
  padding: 8px 10px;
  border-left: 3px solid var(--accent);
  background: var(--accent-soft);
}
p {
  margin: 0 0 6px;
}
button + button {
  margin-left: 8px;
}
</style>
