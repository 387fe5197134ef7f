<script setup lang="ts">
// The make-ups: built-in ones to read and copy, the project's own to write and try, and those of shelves to take.
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { NButton } from 'naive-ui'
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { keys } from '../../api/keys'
import { useMakeUps, useProject, useSave } from '../../api/project'
import ListPane from '../../desk/ListPane.vue'
import PutOnShelf from '../../desk/PutOnShelf.vue'
import Stage from '../../desk/Stage.vue'
import { useNotices } from '../../desk/notices'
import { money, quantity } from '../../desk/numbers'
import MakeUpForm from './form/MakeUpForm.vue'
import MakeUpText from './MakeUpText.vue'
import MakeUpTrial from './MakeUpTrial.vue'
import { hadWhole } from './document'
import { useShelves } from '../../api/shelves'
import ShelfBar from './ShelfBar.vue'

const EMPTY = `key = "our-own"
name = "Our own"
about = ""
headline = "net"
needs = ["length"]
inputs = [
  { key = "thick", label = "Thickness", unit = "mm", default = "150", minimum = 0 },
]
outputs = [
  { key = "net", label = "Net", unit = "m²", family = "concrete", formula = "times * length * thick", item = "Our own work", section = "Measured work" },
]
`
const route = useRoute()
const router = useRouter()
const notices = useNotices()
const queries = useQueryClient()
const { save, projectId } = useSave()
const { data: makeups } = useMakeUps()
const { data: project } = useProject()
const shelves = useShelves()
const chosen = computed(() => makeups.value?.find((m) => m.key === route.params.makeup) ?? makeups.value?.[0])
const text = ref('')
const fresh = ref<'copy' | 'empty' | null>(null)
const wrong = ref<{ sentence: string; field: string; line: number } | null>(null)
const asText = ref(false)
const params = computed(() => ({ params: { path: { project_id: projectId.value } } }))
const names = ref<Schemas['NameView'][]>([])
const { data: words } = useQuery({
  queryKey: computed(() => [...keys.makeups(projectId.value), 'words']),
  queryFn: () => ask(client.GET('/api/projects/{project_id}/makeups/words', params.value)),
  staleTime: Infinity,
})
const effect = ref<Schemas['MakeUpEffect'] | null>(null)
const field = ref<InstanceType<typeof MakeUpText>>()
// What was last put into the field, and at which version: what is typed over it outlasts a colleague's change.
let shown = ''
let seen = 0
watch(
  [() => chosen.value?.key, () => chosen.value?.version],
  () => {
    const typed = text.value !== shown && text.value !== chosen.value?.source
    if (!fresh.value && !typed) reset()
  },
  { immediate: true },
)
watch(
  () => route.params.makeup,
  (_, before) => {
    if (before) reset()
  },
)
watch(
  [() => route.params.makeup, makeups],
  ([key, list]) => {
    if (!key && list?.[0] && !fresh.value)
      void router.replace(`/projects/${projectId.value}/make-ups/${list[0].key}`)
  },
  { immediate: true },
)

const entry = (m: Schemas['MakeUpView']) => ({
  id: m.key,
  name: m.name,
  value: m.newer ? `${m.newer} is out` : m.shelf_number ? `${m.shelf}, ${m.shelf_number}` : '',
  warn: m.newer !== null,
  to: `/projects/${projectId.value}/make-ups/${m.key}`,
})
const groups = computed(() => {
  const measured = (makeups.value ?? []).filter((m) => m.kind === 'make-up')
  return [
    {
      key: 'own',
      title: 'Of this project',
      empty: 'none yet: copy a built-in one, start empty, or take one from a shelf',
      entries: measured.filter((m) => m.own !== null).map(entry),
    },
    { key: 'built-in', title: 'Built in', entries: measured.filter((m) => m.own === null).map(entry) },
    {
      key: 'allowances',
      title: 'Rules of allowances',
      entries: (makeups.value ?? []).filter((m) => m.kind === 'allowance').map(entry),
    },
  ]
})
const writable = computed(
  () => project.value?.role !== 'viewer' && (fresh.value !== null || Boolean(chosen.value?.own)),
)
const newest = computed(() => {
  const now = chosen.value
  if (!now?.newer) return null
  return (
    shelves.value
      ?.flatMap((s) => (s.name === now.shelf ? s.documents.map((m) => ({ ...m, shelf: s.id })) : []))
      .find((m) => m.kind === 'make-up' && m.key === now.key) ?? null
  )
})

function reset() {
  text.value = shown = chosen.value?.source ?? ''
  seen = chosen.value?.version ?? 0
  fresh.value = null
  wrong.value = effect.value = null
}
function copy() {
  fresh.value = 'copy'
  text.value = text.value
    .replace(/^key = "(.*)"$/m, 'key = "$1-own"')
    .replace(/^name = "(.*)"$/m, 'name = "$1, our own"')
}
function empty() {
  fresh.value = 'empty'
  text.value = EMPTY
}
/** Where a refusal lies in the text: the line that names what it is about. */
function lineOf(sentence: string, field: string): number {
  const rows = text.value.split('\n')
  const reader = /at line (\d+)/.exec(sentence)
  if (reader) return Number(reader[1])
  const named = [.../“([^”]+)”/g[Symbol.matchAll](sentence)].map((m) => m[1])
  for (const part of [`label = "${field}"`, `key = "${field}"`, ...named.map((n) => `"${n}`), ...named]) {
    const at = rows.findIndex((row) => row.includes(part))
    if (at >= 0) return at + 1
  }
  return 0
}
function refused(found: { sentence: string; field: string } | null) {
  wrong.value = found && { ...found, line: lineOf(found.sentence, found.field) }
}
async function toLine(line: number) {
  asText.value = true
  await nextTick()
  field.value?.toLine(line)
}
async function keep() {
  const now = chosen.value
  if (!now) return
  if (fresh.value) {
    const saved = await save(() =>
      ask(
        client.POST('/api/projects/{project_id}/makeups', { ...params.value, body: { source: text.value } }),
      ),
    )
    if (!saved) return
    fresh.value = null
    await router.push(
      `/projects/${projectId.value}/make-ups/${/^key = "(.*)"$/m.exec(text.value)?.[1] ?? ''}`,
    )
    return
  }
  const path = { params: { path: { project_id: projectId.value, makeup: now.own! } } }
  await save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/makeups/{makeup}', {
        ...path,
        body: { version: version ?? seen, source: text.value },
      }),
    ),
  )
}
/** What a text would move in the project; nothing is changed by asking. */
async function wouldMove(source: string) {
  const own = chosen.value?.own
  if (!own) return
  try {
    effect.value = await ask(
      client.POST('/api/projects/{project_id}/makeups/{makeup}/effect', {
        params: { path: { project_id: projectId.value, makeup: own } },
        body: { source },
      }),
    )
    notices.clear()
  } catch (error) {
    notices.show(error)
  }
}
async function takeNewest() {
  const now = newest.value
  if (!now) return
  await take(now.shelf, now.key)
}
async function take(shelf: number, key: string) {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/makeups/from-shelf', { ...params.value, body: { shelf, key } }),
    ),
  )
  effect.value = null
  if (saved) await router.push(`/projects/${projectId.value}/make-ups/${key}`)
}
async function put(shelf: number) {
  const own = chosen.value?.own
  if (!own) return
  await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/makeups/{makeup}/shelf', {
        params: { path: { project_id: projectId.value, makeup: own } },
        body: { shelf },
      }),
    ),
  )
  await queries.invalidateQueries({ queryKey: ['shelves'] })
}
async function remove() {
  const own = chosen.value?.own
  if (!own) return
  const done = await save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/makeups/{makeup}', {
        params: { path: { project_id: projectId.value, makeup: own } },
      }),
    ),
  )
  if (done) await router.push(`/projects/${projectId.value}/make-ups`)
}
</script>

<template>
  <Stage label="Make-ups">
    <template #list>
      <ListPane
        find="Find a make-up"
        :groups="groups"
        :waits="!makeups || !shelves"
        :chosen="chosen?.key ?? null"
      >
        <p v-if="project?.role !== 'viewer'" class="new">
          <NButton size="small" @click="empty">Start empty</NButton>
        </p>
        <ShelfBar :shelves="shelves ?? []" :readonly="project?.role === 'viewer'" @take="take" />
      </ListPane>
    </template>
    <template v-if="chosen">
      <div class="desk-head">
        <b>{{ fresh === 'empty' ? 'A new make-up' : fresh ? `A copy of ${chosen.name}` : chosen.name }}</b>
        <span class="quiet about" :title="chosen.about">{{ fresh ? '' : chosen.about }}</span>
        <span class="push"></span>
        <NButton text :aria-pressed="asText" @click="asText = !asText">
          {{ asText ? 'As a form' : 'As text' }}
        </NButton>
        <template v-if="writable">
          <NButton text @click="reset">{{ fresh ? 'Drop it' : 'As kept' }}</NButton>
          <template v-if="chosen.own && !fresh">
            <PutOnShelf label="Put on a shelf" @put="put" />
            <NButton text @click="wouldMove(text)">What it would move</NButton>
            <NButton text @click="remove">Delete</NButton>
          </template>
          <NButton
            type="primary"
            size="small"
            :disabled="(!fresh && text === chosen.source) || wrong !== null"
            @click="keep"
            >Prove and keep</NButton
          >
        </template>
        <NButton v-else-if="project?.role !== 'viewer'" size="small" @click="copy">Copy and change</NButton>
      </div>
      <p v-if="chosen.newer && newest" class="newer">
        “{{ chosen.shelf }}” has moved on to number {{ chosen.newer }}; this project has
        {{ chosen.shelf_number }}.
        <NButton text type="primary" @click="wouldMove(newest.source)">What it would move</NButton>
        <NButton text type="primary" @click="takeNewest">Take it</NButton>
      </p>
      <div v-if="effect" class="effect">
        <p>
          The bill would go from <b class="num">{{ money(effect.bill_before) }}</b> to
          <b class="num">{{ money(effect.bill_after) }}</b>.
          <NButton text @click="effect = null">close</NButton>
        </p>
        <p v-if="!effect.quantities.length" class="quiet">No quantity would move.</p>
        <p v-for="q in effect.quantities" :key="`${q.mark} ${q.label}`" class="moved">
          <span>{{ q.label }} in {{ q.mark }}</span>
          <span class="num"
            >{{ quantity(q.before, q.unit) }} → {{ quantity(q.after, q.unit) }} {{ q.unit }}</span
          >
        </p>
      </div>
      <p v-if="wrong && asText" class="wrong" role="alert">
        {{ wrong.sentence }}
        <NButton v-if="wrong.line" text type="primary" @click="void toLine(wrong.line)">
          line {{ wrong.line }}
        </NButton>
      </p>
      <div class="write">
        <MakeUpForm
          v-if="!asText"
          :key="fresh ?? chosen.key"
          v-model="text"
          :readonly="!writable"
          :keyed="fresh === null"
          :wrong="wrong"
          :names="names"
          :words="words"
          @text="asText = true"
        />
        <MakeUpText
          v-else
          ref="field"
          v-model="text"
          :writable="writable"
          :wrong="wrong?.line ?? null"
          :label="`Text of the make-up ${chosen.name}`"
        />
        <MakeUpTrial
          :source="text"
          :readonly="project?.role === 'viewer'"
          :writable="writable"
          @refused="refused"
          @held="names = $event.names"
          @whole="(key, whole) => (text = hadWhole(text, key, whole))"
        />
      </div>
    </template>
  </Stage>
</template>

<style scoped>
.new {
  margin: 8px 0 0;
  padding: 0 12px;
}
.about {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.newer,
.effect,
.wrong {
  margin: 0;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
  background: var(--accent-soft);
}
.wrong {
  background: var(--bad-soft);
  color: var(--bad);
}
.effect p {
  margin: 0;
}
.moved {
  display: flex;
  justify-content: space-between;
  max-width: 460px;
}
.write {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 290px;
  flex: 1;
  min-height: 0;
}
</style>
