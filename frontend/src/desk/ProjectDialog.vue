<script setup lang="ts">
// The project itself: its name, client and price date, how its bill rounds, and who belongs to it.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { NButton } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import { ask, client, type Schemas } from '../api/client'
import { useSave } from '../api/project'
import Dialog from './Dialog.vue'
import EntryField from './EntryField.vue'
import { useNotices } from './notices'

const props = defineProps<{ project: Schemas['ProjectView'] }>()
const emit = defineEmits<{ close: [] }>()
const { save, projectId } = useSave()
const notices = useNotices()
const queries = useQueryClient()
const path = computed(() => ({ params: { path: { project_id: projectId.value } } }))
const key = computed(() => ['project', projectId.value, 'people'])
const { data: people } = useQuery({
  queryKey: key,
  queryFn: () => ask(client.GET('/api/projects/{project_id}/people', path.value)),
})
const guest = reactive({ email: '', role: 'editor' as 'owner' | 'editor' | 'viewer' })
const refused = ref('')

async function change(body: {
  name?: string
  client?: string
  price_date?: string
  rounding?: Record<string, number>
}) {
  const done = await save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}', {
        ...path.value,
        body: { version: version ?? props.project.version, ...body },
      }),
    ),
  )
  refused.value = done ? '' : `${notices.notice?.sentence ?? ''} ${notices.notice?.remedy ?? ''}`
}
const round = (unit: string, places: string) =>
  change({ rounding: { ...props.project.rounding, [unit]: Number(places) } })
const invitation = ref<{ email: string; link: string } | null>(null)
async function share() {
  invitation.value = null
  try {
    const shared = await ask(
      client.POST('/api/projects/{project_id}/people', { ...path.value, body: { ...guest } }),
    )
    queries.setQueryData(key.value, shared.members)
    if (shared.invitation)
      invitation.value = {
        email: shared.invitation.email,
        link: `${location.origin}/invited/${shared.invitation.token}`,
      }
    guest.email = refused.value = ''
  } catch (error) {
    refused.value = error instanceof Error ? error.message : String(error)
  }
}
async function out(email: string) {
  try {
    queries.setQueryData(
      key.value,
      await ask(client.POST('/api/projects/{project_id}/people/out', { ...path.value, body: { email } })),
    )
    refused.value = ''
  } catch (error) {
    refused.value = error instanceof Error ? error.message : String(error)
  }
}
</script>

<template>
  <Dialog title="The project" wide @close="emit('close')">
    <div class="two">
      <label class="field"
        ><span>Name</span
        ><EntryField
          :value="project.name"
          :disabled="project.role === 'viewer'"
          @change="change({ name: $event })"
      /></label>
      <label class="field"
        ><span>Client</span
        ><EntryField
          :value="project.client"
          :disabled="project.role === 'viewer'"
          @change="change({ client: $event })"
      /></label>
      <label class="field"
        ><span>Price date: quotes are judged on this day</span
        ><EntryField
          type="date"
          :value="project.price_date"
          :disabled="project.role === 'viewer'"
          @change="change({ price_date: $event })"
      /></label>
    </div>
    <h3>Decimals of a billed quantity</h3>
    <div class="row">
      <label v-for="(places, unit) in project.rounding" :key="unit"
        >{{ unit }}
        <EntryField
          class="num"
          size="2"
          :value="places"
          :disabled="project.role === 'viewer'"
          :aria-label="`Decimals of ${unit}`"
          @change="round(String(unit), $event)"
      /></label>
    </div>
    <h3>People</h3>
    <p v-for="person in people" :key="person.email" class="person">
      <span>{{ person.invited ? 'invited' : person.name }}</span><span class="quiet">{{ person.email }}</span
      ><span>{{ person.role }}</span>
      <button
        v-if="project.role === 'owner' && person.role !== 'owner'"
        class="plain quiet"
        :aria-label="`Take ${person.email} out`"
        @click="out(person.email)"
      >
        take out
      </button>
    </p>
    <form v-if="project.role === 'owner'" class="row" @submit.prevent="share">
      <input
        v-model="guest.email"
        type="email"
        required
        aria-label="E-mail address of a person"
        placeholder="e-mail address"
      />
      <select v-model="guest.role" aria-label="Role">
        <option>editor</option>
        <option>viewer</option>
        <option>owner</option>
      </select>
      <NButton attr-type="submit" size="small">Let in</NButton>
    </form>
    <p v-if="invitation" role="status">
      {{ invitation.email }} has no account yet. Hand them this link; it holds for two weeks:<br />
      <input
        class="link-field num"
        readonly
        :value="invitation.link"
        aria-label="Link of the invitation"
        @focus="($event.target as HTMLInputElement).select()"
      />
    </p>
    <p v-if="refused" class="bad" role="alert">{{ refused }}</p>
  </Dialog>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 10px 16px;
}
h3 {
  margin: 16px 0 6px;
  color: var(--quiet);
}
.row {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 16px;
}
.row input {
  height: 26px;
  padding: 0 6px;
  border: 1px solid #b9b1a3;
}
.row input[type='email'] {
  flex: 1;
}
.person {
  display: grid;
  grid-template-columns: 1fr 1.4fr 60px 64px;
  margin: 0;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
}
form {
  margin-top: 10px;
}
.link-field {
  width: 100%;
  height: 28px;
  padding: 0 6px;
  border: 1px solid var(--rule);
}
</style>
