<script setup lang="ts">
// The project itself: its name, client and price date, how its bill rounds, and who belongs to it.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { NButton, NInput } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import { useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../api/client'
import { useSave } from '../api/project'
import { useSession } from '../api/session'
import ChoiceField from './ChoiceField.vue'
import DateField from './DateField.vue'
import Dialog from './Dialog.vue'
import EntryField from './EntryField.vue'
import { useNotices } from './notices'
import { isForeign, systems, writings, type Ways } from './ways'

const props = defineProps<{ project: Schemas['ProjectView'] }>()
const emit = defineEmits<{ close: [] }>()
const { save, projectId } = useSave()
const notices = useNotices()
const queries = useQueryClient()
const router = useRouter()
const session = useSession()
const path = computed(() => ({ params: { path: { project_id: projectId.value } } }))
const key = computed(() => ['project', projectId.value, 'people'])
const { data: people } = useQuery({
  queryKey: key,
  queryFn: () => ask(client.GET('/api/projects/{project_id}/people', path.value)),
})
type Role = 'owner' | 'editor' | 'viewer'
const roles = (['editor', 'viewer', 'owner'] as Role[]).map((role) => ({ value: role, label: role }))
const guest = reactive({ email: '', role: 'editor' as Role })
const refused = ref('')

async function change(body: {
  name?: string
  client?: string
  currency?: string
  price_date?: string
  unit_system?: Ways['unit_system']
  numbers?: Ways['numbers']
  working_day?: number
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
const rounded = computed(() =>
  Object.entries(props.project.rounding).filter(([unit]) => !isForeign(unit, props.project.unit_system)),
)
const invited = ref('')
const deleting = ref('')
async function tried(act: () => Promise<unknown>) {
  refused.value = ''
  try {
    await act()
  } catch (error) {
    refused.value = error instanceof Error ? error.message : String(error)
  }
}
const share = () =>
  tried(async () => {
    invited.value = ''
    const members = await ask(
      client.POST('/api/projects/{project_id}/people', { ...path.value, body: { ...guest } }),
    )
    queries.setQueryData(key.value, members)
    if (members.some((each) => each.invited && each.email === guest.email.trim().toLowerCase()))
      invited.value = guest.email
    guest.email = ''
  })
const out = (email: string) =>
  tried(async () => {
    const members = ask(
      client.POST('/api/projects/{project_id}/people/out', { ...path.value, body: { email } }),
    )
    queries.setQueryData(key.value, await members)
  })
const destroy = () =>
  tried(async () => {
    await ask(
      client.POST('/api/projects/{project_id}/delete', { ...path.value, body: { name: deleting.value } }),
    )
    await router.push('/projects')
  })
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
        ><span>Currency, three letters</span
        ><EntryField
          :value="project.currency"
          :disabled="project.role === 'viewer'"
          @change="change({ currency: $event })"
      /></label>
      <label class="field"
        ><span>Price date: quotes are judged on this day</span
        ><DateField
          :value="project.price_date"
          :disabled="project.role === 'viewer'"
          @change="change({ price_date: $event })"
      /></label>
      <label class="field"
        ><span>Measured and billed in</span
        ><ChoiceField
          :value="project.unit_system"
          :options="systems"
          label="Unit system"
          :disabled="project.role === 'viewer'"
          @choose="change({ unit_system: $event })"
      /></label>
      <label class="field"
        ><span>Numbers are written</span
        ><ChoiceField
          :value="project.numbers"
          :options="writings"
          label="How numbers are written"
          :disabled="project.role === 'viewer'"
          @choose="change({ numbers: $event })"
      /></label>
      <label class="field"
        ><span>A working day, in hours</span
        ><EntryField
          number
          :value="project.working_day"
          label="Hours of a working day"
          :disabled="project.role === 'viewer'"
          @change="change({ working_day: Number($event.replace(',', '.')) })"
      /></label>
    </div>
    <h3>Decimals of a billed quantity, and of a rate</h3>
    <div class="row">
      <label v-for="[unit, places] in rounded" :key="unit"
        >{{ unit }}
        <EntryField
          class="places"
          number
          :value="places"
          :disabled="project.role === 'viewer'"
          :label="`Decimals of ${unit}`"
          @change="round(unit, $event)"
      /></label>
    </div>
    <h3>People</h3>
    <p v-for="person in people" :key="person.email" class="person">
      <span>{{ person.invited ? 'invited' : person.name }}</span><span class="quiet">{{ person.email }}</span
      ><span>{{ person.role }}</span>
      <NButton
        v-if="project.role === 'owner' && person.role !== 'owner'"
        text
        :aria-label="`Take ${person.email} out`"
        @click="out(person.email)"
      >
        take out
      </NButton>
    </p>
    <form v-if="project.role === 'owner'" class="row" @submit.prevent="share">
      <NInput
        v-model:value="guest.email"
        class="name"
        size="small"
        placeholder="e-mail address"
        :input-props="{ type: 'email', required: true, 'aria-label': 'E-mail address of a person' }"
      />
      <ChoiceField
        class="role"
        :value="guest.role"
        :options="roles"
        label="Role"
        @choose="guest.role = $event"
      />
      <NButton attr-type="submit" size="small">Let in</NButton>
    </form>
    <p v-if="invited" role="status">
      {{ invited }} is invited for two weeks. It waits in their list of projects when they sign in{{
        session.letters
          ? '; a letter with a link to make an account is on its way.'
          : '. This server sends no letters: someone without an account gets one from whoever runs it.'
      }}
    </p>
    <template v-if="project.role === 'owner'">
      <h3>Delete the project</h3>
      <p class="quiet">
        Everything in it goes, for everybody; only a project file or a backup brings it back. Type its name to
        say that you mean it.
      </p>
      <form class="row" @submit.prevent="destroy">
        <NInput
          v-model:value="deleting"
          class="name"
          size="small"
          :placeholder="project.name"
          :input-props="{ 'aria-label': 'Name of the project to delete' }"
        />
        <NButton attr-type="submit" size="small" type="error" :disabled="deleting.trim() !== project.name"
          >Delete it for good</NButton
        >
      </form>
    </template>
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
.row label {
  display: flex;
  align-items: center;
  gap: 6px;
}
.places {
  width: 44px;
}
.role {
  width: 110px;
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
.row .name {
  flex: 1;
}
</style>
