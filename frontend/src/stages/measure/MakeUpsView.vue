<script setup lang="ts">
// The make-ups: built-in ones to read and copy, and the project's own to write, proved before they are kept.
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client } from '../../api/client'
import { useMakeUps, useProject, useSave } from '../../api/project'
import ListPane from '../../desk/ListPane.vue'
import Stage from '../../desk/Stage.vue'

const route = useRoute()
const router = useRouter()
const { save, projectId } = useSave()
const { data: makeups } = useMakeUps()
const { data: project } = useProject()
const chosen = computed(() => makeups.value?.find((m) => m.key === route.params.makeup) ?? makeups.value?.[0])
const text = ref('')
const copying = ref(false)
watch([() => chosen.value?.key, () => chosen.value?.version], reset, { immediate: true })

const groups = computed(() =>
  ['Built in', 'Of this project'].map((title, own) => ({
    key: title,
    title,
    empty: 'none; copy a built-in one and change it',
    entries: (makeups.value ?? [])
      .filter((m) => Number(m.own !== null) === own)
      .map((m) => ({ id: m.key, name: m.name, to: `/projects/${projectId.value}/make-ups/${m.key}` })),
  })),
)
const writable = computed(() => project.value?.role !== 'viewer' && (copying.value || Boolean(chosen.value?.own)))
const params = computed(() => ({ params: { path: { project_id: projectId.value } } }))

function reset() {
  text.value = chosen.value?.source ?? ''
  copying.value = false
}
function copy() {
  copying.value = true
  text.value = text.value.replace(/^key = "(.*)"$/m, 'key = "$1-own"').replace(/^name = "(.*)"$/m, 'name = "$1, our own"')
}
async function keep() {
  const now = chosen.value
  if (!now) return
  if (copying.value) {
    const saved = await save(() =>
      ask(client.POST('/api/projects/{project_id}/makeups', { ...params.value, body: { source: text.value } })),
    )
    if (saved) await router.push(`/projects/${projectId.value}/make-ups/${/^key = "(.*)"$/m.exec(text.value)?.[1] ?? ''}`)
    return
  }
  await save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/makeups/{makeup}', {
        params: { path: { project_id: projectId.value, makeup: now.own! } },
        body: { version: version ?? now.version!, source: text.value },
      }),
    ),
  )
}
async function remove() {
  const own = chosen.value?.own
  if (!own) return
  const done = await save(() =>
    ask(client.DELETE('/api/projects/{project_id}/makeups/{makeup}', { params: { path: { project_id: projectId.value, makeup: own } } })),
  )
  if (done) await router.push(`/projects/${projectId.value}/make-ups`)
}
</script>

<template>
  <Stage label="Make-ups">
    <template #list><ListPane find="Find a make-up" :groups="groups" :chosen="chosen?.key ?? null" /></template>
    <template v-if="chosen">
      <div class="desk-head">
        <b>{{ chosen.name }}</b>
        <span class="quiet about">{{ chosen.about }}</span>
        <span class="push"></span>
        <template v-if="writable">
          <button class="plain quiet" @click="reset">{{ copying ? 'Drop the copy' : 'As kept' }}</button>
          <button v-if="chosen.own && !copying" class="plain quiet" @click="remove">Delete</button>
          <NButton type="primary" size="small" :disabled="text === chosen.source" @click="keep">Prove and keep</NButton>
        </template>
        <NButton v-else-if="project?.role !== 'viewer'" size="small" @click="copy">Copy and change</NButton>
      </div>
      <p class="how quiet">
        Inputs, derived values and outputs, each with its unit. A formula may use times, length, width, height, area, the inputs and the
        derived values; units are proved when it is kept.
      </p>
      <textarea v-model="text" :readonly="!writable" spellcheck="false" aria-label="The make-up’s text"></textarea>
    </template>
  </Stage>
</template>

<style scoped>
.about {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.how {
  margin: 0;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
}
textarea {
  flex: 1;
  padding: 10px 12px;
  border: 0;
  resize: none;
  background: var(--panel);
  color: var(--ink);
  font: 12px/1.55 var(--mono);
}
textarea[readonly] {
  background: var(--ground);
}
</style>
