<script setup lang="ts">
// Shelves: make-ups shared by name across projects and people; what stands there can be taken into this project.
import { useQueryClient } from '@tanstack/vue-query'
import { NButton, NInput } from 'naive-ui'
import { ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useNotices } from '../../desk/notices'

defineProps<{ shelves: Schemas['ShelfView'][]; readonly: boolean }>()
const emit = defineEmits<{ take: [shelf: number, key: string] }>()
// What is taken elsewhere: in the form of a make-up, in the rules of the bars.
const KINDS = {
  sizes: 'by size',
  detailing: 'bar rules',
  trench: 'trench',
  'typical section': 'road',
  names: 'names',
  norms: 'own norms',
  rate: 'rate',
}
const queries = useQueryClient()
const notices = useNotices()
const name = ref('')
const open = ref<number | null>(null)
const guest = ref<Record<number, string>>({})

async function write(call: Promise<unknown>): Promise<boolean> {
  try {
    await call
    await queries.invalidateQueries({ queryKey: ['shelves'] })
    notices.clear()
    return true
  } catch (error) {
    notices.show(error)
    return false
  }
}
async function add() {
  if (await write(ask(client.POST('/api/shelves', { body: { name: name.value, about: '' } }))))
    name.value = ''
}
async function share(shelf: number) {
  const email = guest.value[shelf] ?? ''
  if (
    await write(
      ask(client.POST('/api/shelves/{shelf}/people', { params: { path: { shelf } }, body: { email } })),
    )
  )
    guest.value[shelf] = ''
}
</script>

<template>
  <div class="shelves">
    <h3>Shelves</h3>
    <p v-if="!shelves.length" class="quiet">
      None yet. A shelf keeps make-ups, tables and rules for a kind of client or authority, for every project.
    </p>
    <section v-for="shelf in shelves" :key="shelf.id">
      <NButton
        text
        class="laid shelf"
        :aria-expanded="open === shelf.id"
        @click="open = open === shelf.id ? null : shelf.id"
      >
        <span>{{ open === shelf.id ? '▾' : '▸' }} {{ shelf.name }}</span>
        <span class="quiet">{{ shelf.documents.length }}</span>
      </NButton>
      <template v-if="open === shelf.id">
        <p v-for="m in shelf.documents" :key="`${m.kind} ${m.key}`" class="one" :title="m.about">
          <span>{{ m.name }}, {{ m.number }}</span>
          <NButton
            v-if="m.kind === 'make-up' && !readonly"
            text
            type="primary"
            @click="emit('take', shelf.id, m.key)"
            >take</NButton
          >
          <span v-else-if="m.kind !== 'make-up'" class="quiet">{{ KINDS[m.kind] }}</span>
        </p>
        <p class="quiet people">{{ shelf.people.join(', ') }}</p>
        <form @submit.prevent="share(shelf.id)">
          <NInput
            v-model:value="guest[shelf.id]"
            size="small"
            placeholder="e-mail address"
            :input-props="{ type: 'email', required: true, 'aria-label': `Let someone onto ${shelf.name}` }"
          />
          <NButton text type="primary" attr-type="submit">let in</NButton>
        </form>
      </template>
    </section>
    <form @submit.prevent="add">
      <NInput
        v-model:value="name"
        size="small"
        placeholder="A new shelf"
        :input-props="{ required: true, 'aria-label': 'Name of a new shelf' }"
      /><NButton text type="primary" attr-type="submit">Make</NButton>
    </form>
  </div>
</template>

<style scoped>
.shelves {
  margin-top: 14px;
  padding: 0 12px;
}
h3 {
  color: var(--quiet);
}
p {
  margin: 2px 0;
}
.shelf {
  display: flex;
  gap: 8px;
  justify-content: space-between;
  width: 100%;
  padding: 4px 0;
}
.one {
  display: flex;
  justify-content: space-between;
  padding-left: 12px;
}
.people {
  padding-left: 12px;
  overflow-wrap: anywhere;
}
form {
  display: flex;
  gap: 8px;
  padding: 4px 0;
}
</style>
