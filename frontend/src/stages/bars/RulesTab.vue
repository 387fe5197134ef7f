<script setup lang="ts">
// Detailing rules: which set the project follows, and a set as a table with its picture, changed without code.
import { refDebounced } from '@vueuse/core'
import { NButton, NInput, NInputNumber, NSwitch } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useDetailing } from '../../api/bars'
import { ask, client, type Schemas } from '../../api/client'
import { useProject, useSave } from '../../api/project'
import { useShelves } from '../../api/shelves'
import ChoiceField from '../../desk/ChoiceField.vue'
import PutOnShelf from '../../desk/PutOnShelf.vue'
import { useWalkStore } from '../../desk/walk'
import BendTable from './BendTable.vue'
import { read, write, type Rules } from './rules'

const walk = useWalkStore()
const { save, projectId } = useSave()
const { data: project } = useProject()
const { data: sets } = useDetailing()
const shelves = useShelves()
const picked = ref('')
const readonly = computed(() => project.value?.role === 'viewer')
const chosen = computed(
  () =>
    sets.value?.find((s) => s.key === picked.value) ?? sets.value?.find((s) => s.project) ?? sets.value?.[0],
)
const draft = ref<Rules | null>(null)
const text = ref('')
const asText = ref(false)
const copying = ref(false)
const table = ref<Schemas['DetailingTable'] | null>(null)
const wrong = ref('')
const size = ref('')
watch([() => chosen.value?.key, () => chosen.value?.version], () => reset(), { immediate: true })
function reset() {
  copying.value = false
  text.value = chosen.value?.source ?? ''
  draft.value = text.value ? read(text.value) : null
}
const writable = computed(() => !readonly.value && (copying.value || Boolean(chosen.value?.own)))
// The form writes the text; the text, where it is typed, writes the form.
watch(draft, (now) => now && !asText.value && writable.value && (text.value = write(now)), { deep: true })
function typed(now: string) {
  text.value = now
  try {
    draft.value = read(now)
  } catch {
    // Said below, by who reads it for good.
  }
}
const settled = refDebounced(text, 300)
watch(
  settled,
  async (source) => {
    if (!source) return
    try {
      const params = { path: { project_id: projectId.value } }
      table.value = await ask(
        client.POST('/api/projects/{project_id}/detailing/trial', { params, body: { source } }),
      )
      wrong.value = ''
      if (!table.value.sizes.some((each) => each.size === size.value))
        size.value = table.value.sizes.find((each) => each.size === '16')?.size ?? table.value.sizes[0].size
    } catch (error) {
      wrong.value = error instanceof Error ? error.message : ''
    }
  },
  { immediate: true },
)
function copy() {
  copying.value = true
  if (draft.value)
    draft.value = {
      ...draft.value,
      key: `${draft.value.key}-own`.slice(0, 40),
      name: `${draft.value.name}, our own`,
    }
}
const at = computed(() => ({ path: { project_id: projectId.value } }))
async function keep() {
  const now = chosen.value
  if (!now || !draft.value) return
  const key = draft.value.key
  const source = text.value
  if (copying.value) {
    const saved = await save(() =>
      ask(client.POST('/api/projects/{project_id}/detailing', { params: at.value, body: { source } })),
    )
    if (saved) picked.value = key
    return
  }
  await save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/detailing/{detailing}', {
        params: { path: { ...at.value.path, detailing: now.own! } },
        body: { version: version ?? now.version ?? 0, source },
      }),
    ),
  )
}
const own = computed(() => ({ params: { path: { ...at.value.path, detailing: chosen.value?.own ?? 0 } } }))
async function remove() {
  if (await save(() => ask(client.DELETE('/api/projects/{project_id}/detailing/{detailing}', own.value))))
    picked.value = ''
}
const follow = () =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}', {
        params: at.value,
        body: { version: version ?? project.value?.version ?? 0, detailing: chosen.value?.key ?? '' },
      }),
    ),
  )
const put = (shelf: number) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/detailing/{detailing}/shelf', {
        ...own.value,
        body: { shelf },
      }),
    ),
  )
const onShelves = computed(() =>
  (shelves.value ?? []).flatMap((shelf) =>
    shelf.documents
      .filter((each) => each.kind === 'detailing')
      .map((each) => ({
        value: `${shelf.id} ${each.key}`,
        label: `${each.name}, ${each.number} (${shelf.name})`,
      })),
  ),
)
async function take(which: string) {
  const [shelf, key] = which.split(' ')
  const body = { shelf: Number(shelf), key }
  if (
    await save(() =>
      ask(client.POST('/api/projects/{project_id}/detailing/from-shelf', { params: at.value, body })),
    )
  )
    picked.value = key
}
const BENDS = [
  { value: 'formula', label: 'by the formula of each shape' },
  { value: 'count', label: 'by count, so many diameters each' },
  { value: 'none', label: 'nothing: legs are summed as shown' },
]
const COUNTING = ['spaces up, plus one', 'spaces down, plus one', 'spaces up'].map((value) => ({
  value,
  label: value,
}))
const covers = computed(() => Object.entries(draft.value?.covers ?? {}))
function setCover(from: string, name: string, cover: string) {
  if (!draft.value) return
  const entries = Object.entries(draft.value.covers).map(([key, was]) =>
    key === from ? [name, cover] : [key, was],
  )
  if (!from) entries.push([name, cover])
  draft.value.covers = Object.fromEntries(entries.filter(([key]) => key))
}
const bars = computed({
  get: () => draft.value?.bars.join(', ') ?? '',
  set: (now) => draft.value && (draft.value.bars = now.split(/[,\s]+/).filter(Boolean)),
})
const stock = computed({
  get: () => draft.value?.stock.join(', ') ?? '',
  set: (now) =>
    draft.value &&
    (draft.value.stock = now
      .split(',')
      .map((each) => each.trim())
      .filter(Boolean)),
})
</script>

<template>
  <div v-if="chosen && draft" class="rules">
    <div class="tools">
      <ChoiceField
        class="which"
        :value="chosen.key"
        :options="
          (sets ?? []).map((s) => ({
            value: s.key,
            label: `${s.name}${s.project ? ' (the project’s)' : ''}`,
          }))
        "
        label="Set of rules"
        @choose="picked = $event"
      />
      <span v-if="chosen.project" class="quiet">The project’s bars follow it.</span>
      <NButton v-else-if="!readonly" size="small" @click="follow">The project follows it</NButton>
      <span v-if="chosen.used_by" class="quiet">{{ chosen.used_by }} elements follow it by themselves.</span>
      <span v-if="chosen.shelf" class="quiet">{{ chosen.shelf }}</span>
      <span class="push"></span>
      <ChoiceField
        v-if="onShelves.length && !readonly"
        class="shelf"
        :value="null"
        :options="onShelves"
        label="Take rules from a shelf"
        placeholder="Take from a shelf…"
        @choose="take"
      />
      <PutOnShelf v-if="chosen.own" label="Put the rules on a shelf" @put="put" />
      <NButton text :aria-pressed="asText" @click="asText = !asText">{{
        asText ? 'As a form' : 'As text'
      }}</NButton>
      <template v-if="writable">
        <NButton text @click="reset">{{ copying ? 'Drop it' : 'As kept' }}</NButton>
        <NButton v-if="chosen.own && !copying" text @click="remove">Delete</NButton>
        <NButton type="primary" size="small" :disabled="wrong !== '' || text === chosen.source" @click="keep"
          >Prove and keep</NButton
        >
      </template>
      <NButton v-else-if="!readonly" size="small" @click="copy">Copy and change</NButton>
    </div>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div class="both">
      <NInput
        v-if="asText"
        :value="text"
        type="textarea"
        class="text"
        :readonly="!writable"
        :input-props="{ 'aria-label': 'The rules as text' }"
        @update:value="typed"
      />
      <div v-else class="form scroll" tabindex="0">
        <label>Name <NInput v-model:value="draft.name" size="small" :disabled="!writable" /></label>
        <label v-if="copying">Its key <NInput v-model:value="draft.key" size="small" /></label>
        <label class="wide"
          >Where it comes from <NInput v-model:value="draft.source" size="small" :disabled="!writable"
        /></label>
        <label
          >Taken off for bends
          <ChoiceField
            :value="draft.bends"
            :options="BENDS"
            label="Taken off for bends"
            :disabled="!writable"
            @choose="draft.bends = $event as Rules['bends']"
        /></label>
        <label v-if="draft.bends === 'count'"
          >Diameters for each bend
          <NInputNumber v-model:value="draft.bend_times_d" size="small" :min="0" :disabled="!writable"
        /></label>
        <label
          >Bars are counted
          <ChoiceField
            :value="draft.counting"
            :options="COUNTING"
            label="Bars are counted"
            :disabled="!writable"
            @choose="draft.counting = $event"
        /></label>
        <label
          >Cut lengths up to <NInput v-model:value="draft.cut_step" size="small" :disabled="!writable"
        /></label>
        <label>Stock lengths <NInput v-model:value="stock" size="small" :disabled="!writable" /></label>
        <label
          >Letter before a size <NInput v-model:value="draft.grade" size="small" :disabled="!writable"
        /></label>
        <label class="wide">Sizes <NInput v-model:value="bars" size="small" :disabled="!writable" /></label>
        <fieldset>
          <legend>Former radius</legend>
          <div v-for="(f, n) in draft.former" :key="n" class="line">
            <span>to</span
            ><NInput
              v-model:value="f.to"
              size="small"
              :disabled="!writable"
              :input-props="{ 'aria-label': 'Former of bars up to' }"
            />
            <NInputNumber
              v-model:value="f.times_d"
              size="small"
              :min="0.1"
              :disabled="!writable"
              :show-button="false"
            /><span>× d</span>
            <NButton
              v-if="writable && draft.former.length > 1"
              text
              aria-label="Take this line out"
              @click="draft.former.splice(n, 1)"
              >×</NButton
            >
          </div>
          <NButton v-if="writable" text type="primary" @click="draft.former.push({ to: '50 mm', times_d: 4 })"
            >+ line</NButton
          >
        </fieldset>
        <fieldset v-for="which in ['least_leg', 'least_hook'] as const" :key="which">
          <legend>{{ which === 'least_leg' ? 'Least leg' : 'Least hook' }}</legend>
          <div class="line">
            <NInputNumber
              v-model:value="draft[which].times_d"
              size="small"
              :min="0"
              :disabled="!writable"
              :show-button="false"
            /><span>× d, not under</span>
            <NInput
              v-model:value="draft[which].least"
              size="small"
              :disabled="!writable"
              :input-props="{ 'aria-label': 'Not under' }"
            />
          </div>
          <div class="line">
            <span>that for bars to</span
            ><NInput v-model:value="draft[which].to" size="small" placeholder="all" :disabled="!writable" />
          </div>
          <div class="line">
            <NSwitch
              v-model:value="draft[which].beyond_bend"
              :aria-label="`${which === 'least_leg' ? 'Least leg' : 'Least hook'} measured beyond the bend`"
              size="small"
              :disabled="!writable"
            /><span>measured beyond the bend</span>
          </div>
        </fieldset>
        <fieldset>
          <legend>Covers</legend>
          <div v-for="[name, cover] in covers" :key="name" class="line">
            <NInput
              :default-value="name"
              size="small"
              :disabled="!writable"
              :input-props="{ 'aria-label': 'Exposure' }"
              @change="setCover(name, $event, cover)"
            />
            <NInput
              :default-value="cover"
              size="small"
              :disabled="!writable"
              :input-props="{ 'aria-label': `Cover, ${name}` }"
              @change="setCover(name, name, $event)"
            />
          </div>
          <NButton v-if="writable" text type="primary" @click="setCover('', 'another', '40 mm')"
            >+ line</NButton
          >
        </fieldset>
        <fieldset>
          <legend>Laps</legend>
          <div v-for="(lap, n) in draft.laps" :key="n" class="line">
            <NInput
              v-model:value="lap.concrete"
              size="small"
              :disabled="!writable"
              :input-props="{ 'aria-label': 'Concrete' }"
            />
            <NInputNumber
              v-model:value="lap.times_d"
              size="small"
              :min="1"
              :disabled="!writable"
              :show-button="false"
            /><span>× d, above</span>
            <NInput v-model:value="lap.above" size="small" placeholder="all" :disabled="!writable" />
            <NButton
              v-if="writable && draft.laps.length > 1"
              text
              aria-label="Take this lap out"
              @click="draft.laps.splice(n, 1)"
              >×</NButton
            >
          </div>
          <NButton
            v-if="writable"
            text
            type="primary"
            @click="draft.laps.push({ concrete: 'C40/50', times_d: 40 })"
            >+ line</NButton
          >
        </fieldset>
      </div>
      <Teleport v-if="table" defer to="#in-place" :disabled="walk.folded">
        <BendTable v-model="size" :table="table" />
      </Teleport>
    </div>
  </div>
</template>

<style scoped>
.rules {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-height: 0;
}
.tools {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 10px;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
}
.which {
  width: 290px;
}
.shelf {
  width: 150px;
}
.push {
  flex: 1;
}
.wrong {
  margin: 0;
  padding: 6px 12px;
  background: var(--bad-soft);
  color: var(--bad);
}
.both {
  display: grid;
  flex: 1;
  min-height: 0;
}
.form {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(270px, 1fr));
  align-content: start;
  gap: 8px 12px;
  padding: 10px 12px 24px;
}
label {
  display: flex;
  flex-direction: column;
  justify-content: flex-end;
  min-width: 0;
  color: var(--quiet);
  font-size: 12px;
}
.wide {
  grid-column: span 2;
}
fieldset {
  min-width: 0;
  margin: 0;
  padding: 4px 10px 8px;
  border: 1px solid var(--rule);
}
legend {
  color: var(--quiet);
  font-weight: 600;
}
.line {
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 2px 0;
  white-space: nowrap;
}
.text :deep(textarea) {
  height: 100%;
  font-family: var(--mono);
}
</style>
