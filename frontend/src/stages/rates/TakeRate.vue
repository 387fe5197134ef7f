<script setup lang="ts">
// A rate taken from a shelf or from another project, with all that it draws on.
import { NButton } from 'naive-ui'
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { keys } from '../../api/keys'
import { useSave } from '../../api/project'
import { useShelves } from '../../api/shelves'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'

defineProps<{ rate: Schemas['BuildUpView'] | null }>()
const emit = defineEmits<{ close: []; made: [id: number]; shelve: [shelf: number] }>()
const { save, projectId } = useSave()
const shelves = useShelves()
const at = computed(() => ({ params: { path: { project_id: projectId.value } } }))
const shelved = computed(() =>
  (shelves.value ?? []).flatMap((shelf) =>
    shelf.documents
      .filter((each) => each.kind === 'rate')
      .map((each) => ({
        value: `${shelf.id} ${each.key}`,
        label: `${each.name}, ${each.about} (${shelf.name})`,
      })),
  ),
)
const { data: projects } = useQuery({
  queryKey: ['projects'],
  queryFn: () => ask(client.GET('/api/projects')),
})
const others = computed(() =>
  (projects.value ?? []).filter((p) => p.id !== projectId.value).map((p) => ({ value: p.id, label: p.name })),
)
const other = ref<number | null>(null)
const { data: theirs } = useQuery({
  queryKey: computed(() => keys.buildUps(other.value ?? 0)),
  queryFn: () =>
    ask(
      client.GET('/api/projects/{project_id}/build-ups', { params: { path: { project_id: other.value! } } }),
    ),
  enabled: computed(() => other.value !== null),
})
const rates = computed(() =>
  (theirs.value ?? []).map((b) => ({ value: b.id, label: `${b.name}, per ${b.unit}` })),
)
async function take(document: string) {
  const [shelf, key] = [
    Number(document.slice(0, document.indexOf(' '))),
    document.slice(document.indexOf(' ') + 1),
  ]
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/build-ups/from-shelf', { ...at.value, body: { shelf, key } }),
    ),
  )
  if (saved?.id) emit('made', saved.id)
}
const theirOne = ref<number | null>(null)
async function takeOther() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/build-ups/from-project', {
        ...at.value,
        body: { project: other.value!, build_up: theirOne.value! },
      }),
    ),
  )
  if (saved?.id) emit('made', saved.id)
}
const chosen = ref<string | null>(null)
</script>

<template>
  <Dialog title="Rates of shelves and other projects" wide @close="emit('close')">
    <template v-if="rate && shelves?.length">
      <h3>Put “{{ rate.name }}” on a shelf</h3>
      <p class="on">
        <NButton v-for="s in shelves" :key="s.id" size="small" @click="emit('shelve', s.id)">{{
          s.name
        }}</NButton>
      </p>
    </template>
    <h3>Take one</h3>
    <p class="quiet">
      It comes with the rates and gangs it draws on. Resources are matched by name and unit; those that aren’t
      here yet are made without a price.
    </p>
    <ChoiceField
      v-if="shelved.length"
      :value="chosen"
      :options="shelved"
      label="Rate of a shelf"
      placeholder="a rate"
      @choose="chosen = $event"
    />
    <p v-else class="quiet">
      No shelf of yours holds a rate yet. Shelves are made beside the make-ups; a rate is put on one from
      here.
    </p>
    <NButton v-if="shelved.length" size="small" :disabled="!chosen" @click="take(chosen!)">Take it</NButton>
    <p class="quiet">Or from another project:</p>
    <ChoiceField
      v-if="others.length"
      :value="other"
      :options="others"
      label="Project"
      placeholder="a project"
      @choose="((other = $event), (theirOne = null))"
    />
    <p v-else class="quiet">You belong to no other project.</p>
    <template v-if="other !== null">
      <ChoiceField
        :value="theirOne"
        :options="rates"
        label="Rate of the project"
        placeholder="a rate"
        @choose="theirOne = $event"
      />
      <NButton size="small" type="primary" :disabled="theirOne === null" @click="takeOther"
        >Take this one</NButton
      >
    </template>
  </Dialog>
</template>

<style scoped>
h3 {
  margin: 14px 0 6px;
}
.on {
  display: flex;
  gap: 6px;
}
p {
  margin: 8px 0 6px;
}
</style>
