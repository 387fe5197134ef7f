<script setup lang="ts">
// Live tables: addresses that a spreadsheet reads without signing in, until their key is withdrawn.
import { useQueryClient } from '@tanstack/vue-query'
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useLiveTables } from '../../api/issue'
import { keys } from '../../api/keys'
import { useProjectId } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import { useNotices } from '../../desk/notices'

type Live = Schemas['LiveTableView']
const queries = useQueryClient()
const projectId = useProjectId()
const notices = useNotices()
const { data: tables } = useLiveTables()
const WORDS: Record<string, string> = {
  bill: 'The bill, item by item',
  quantities: 'What elements come to',
  bars: 'The bar schedule',
  prices: 'Prices and the quotes they are of',
  'to-buy': 'What to buy, and how it stands',
  works: 'Ground works of the whole job',
}
const options = Object.entries(WORDS).map(([value, label]) => ({ value, label }))
const what = ref('bill')
const name = ref('')
const made = ref<Live | null>(null)
const address = computed(() => (made.value ? `${location.origin}${made.value.path}` : ''))
const told = ref('')
async function sent(request: Promise<Live>) {
  try {
    const answer = await request
    await queries.invalidateQueries({ queryKey: keys.live(projectId.value) })
    return answer
  } catch (error) {
    notices.show(error)
    return null
  }
}
async function open() {
  const answer = await sent(
    ask(
      client.POST('/api/projects/{project_id}/live-tables', {
        params: { path: { project_id: projectId.value } },
        body: { what: what.value, name: name.value },
      }),
    ),
  )
  if (!answer) return
  made.value = answer
  name.value = told.value = ''
}
async function withdraw(row: Live) {
  const answer = await sent(
    ask(
      client.DELETE('/api/projects/{project_id}/live-tables/{live_table}', {
        params: { path: { project_id: projectId.value, live_table: row.id } },
      }),
    ),
  )
  if (answer && made.value?.id === row.id) made.value = null
}
async function copy() {
  try {
    await navigator.clipboard.writeText(address.value)
    told.value = 'Copied.'
  } catch {
    told.value = 'The browser doesn’t let it be copied: mark it and copy it by hand.'
  }
}
const time = (at: string) =>
  new Date(`${at}Z`).toLocaleString('en-GB', {
    day: '2-digit', month: 'short', year: 'numeric', hour: '2-digit', minute: '2-digit',
  }) // prettier-ignore
</script>

<template>
  <div class="desk-head"><b>Live tables</b></div>
  <p class="about quiet">
    A spreadsheet reads a table from its address as CSV, and reads it again when it is refreshed. Whoever has
    the address needs no account and sees this table alone; it ends when its key is withdrawn, or when whoever
    made it leaves the project.
  </p>
  <form class="open" @submit.prevent="open">
    <ChoiceField :value="what" :options="options" label="Which table" @choose="what = $event" />
    <NInput
      v-model:value="name"
      size="small"
      placeholder="for whom, or what for"
      :input-props="{ 'aria-label': 'For whom or what the address is' }"
    />
    <NButton type="primary" size="small" attr-type="submit">Give it an address</NButton>
  </form>
  <div v-if="made" class="made" role="status">
    <p>
      <b>{{ made.name }}</b>: its address is told now and never again.
    </p>
    <div class="address">
      <NInput
        :value="address"
        readonly
        size="small"
        :input-props="{ 'aria-label': 'Address of the table', autofocus: true }"
        @focus="($event.target as HTMLInputElement).select()"
      />
      <NButton size="small" @click="copy">Copy it</NButton>
    </div>
    <p v-if="told" class="quiet">{{ told }}</p>
  </div>
  <div class="scroll" tabindex="0" role="region" aria-label="Live tables there are">
    <table v-if="tables?.length" class="listing">
      <thead>
        <tr>
          <th>Table</th>
          <th>For</th>
          <th>Made</th>
          <th>Read last</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in tables" :key="row.id" :class="{ quiet: row.withdrawn }">
          <td>{{ WORDS[row.what] }}</td>
          <td>{{ row.name === WORDS[row.what] ? '' : row.name }}</td>
          <td>{{ time(row.made) }} by {{ row.by }}</td>
          <td>
            {{ row.withdrawn ? `withdrawn ${time(row.withdrawn)}` : row.read ? time(row.read) : 'not yet' }}
          </td>
          <td class="does">
            <NButton
              text
              :aria-label="`${row.withdrawn ? 'Take out' : 'Withdraw the key of'} ${row.name}`"
              @click="withdraw(row)"
              >{{ row.withdrawn ? 'Take out' : 'Withdraw the key' }}</NButton
            >
          </td>
        </tr>
      </tbody>
    </table>
    <p v-else class="about quiet">No table has an address yet.</p>
  </div>
</template>

<style scoped>
.about {
  max-width: 80ch;
  margin: 8px 12px;
}
.open,
.address {
  display: grid;
  grid-template-columns: 260px 1fr auto;
  gap: 8px;
  padding: 0 12px 10px;
}
.address {
  grid-template-columns: 1fr auto;
  padding: 0;
}
.made {
  margin: 0 12px 10px;
  padding: 8px 10px;
  border-left: 3px solid var(--accent);
  background: var(--accent-soft);
}
.made p {
  margin: 0 0 6px;
}
.scroll {
  flex: 1;
}
.does {
  text-align: right;
  white-space: nowrap;
}
</style>
