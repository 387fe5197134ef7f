<script setup lang="ts">
// Levels of a file or of the clipboard: what each column or layer is taken for is seen, and put right, before any is kept.
import { NButton, NCheckbox, NInput, NSpin } from 'naive-ui'
import { computed, ref } from 'vue'
import { useDeliveries } from '../../api/ground'
import { ask, client, sendFile, type Schemas } from '../../api/client'
import { useProject, useProjectId, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import FileDrop from '../../desk/FileDrop.vue'
import { day, shown } from '../../desk/numbers'

type Seen = Schemas['SeenView']
type Role = Seen['columns'][number]
type PartRole = Seen['parts'][number]['role']
const emit = defineEmits<{ done: [id: number | null] }>()
const projectId = useProjectId()
const { save } = useSave()
const { data: project } = useProject()
const text = ref('')
const file = ref<File | null>(null)
const delivery = ref('')
const { data: deliveries } = useDeliveries()
const seen = ref<Seen | null>(null)
const wrong = ref('')
const busy = ref('')
const unit = ref(project.value?.unit_system === 'us' ? 'ft' : 'm')
const levelUnit = ref(unit.value)
const how = ref<Record<string, unknown>>({})
const path = computed(() => ({ path: { project_id: projectId.value } }))

const ROLES: { value: Role; label: string }[] = [
  { value: '', label: 'left out' },
  { value: 'east', label: 'easting' },
  { value: 'north', label: 'northing' },
  { value: 'level', label: 'level' },
  { value: 'code', label: 'code' },
]
const PARTS: { value: PartRole; label: string }[] = [
  { value: '', label: 'left out' },
  { value: 'ground', label: 'ground levels' },
  { value: 'formation', label: 'formation levels' },
  { value: 'boundary', label: 'boundary' },
  { value: 'breakline', label: 'breaklines' },
  { value: 'hole', label: 'hole' },
]
const UNITS = ['m', 'mm', 'cm', 'km', 'ft', 'us-ft', 'in'].map((value) => ({
  value,
  label: value === 'us-ft' ? 'US survey ft' : value,
}))

async function look(fields: Record<string, unknown> = {}) {
  how.value = { ...how.value, ...fields }
  wrong.value = ''
  busy.value = 'reading'
  try {
    if (file.value) {
      const form = new FormData()
      form.append('file', file.value)
      form.append('how', JSON.stringify(how.value))
      seen.value = await sendFile<Seen>(`/api/projects/${projectId.value}/surveys/read`, form)
    } else if (delivery.value)
      seen.value = await ask(
        client.POST('/api/projects/{project_id}/surveys/feed/read', {
          params: path.value,
          body: { name: delivery.value, ...how.value } as never,
        }),
      )
    else
      seen.value = await ask(
        client.POST('/api/projects/{project_id}/surveys/pasted/read', {
          params: path.value,
          body: { text: text.value, ...how.value } as never,
        }),
      )
  } catch (error) {
    const { sentence, remedy } = error as { sentence?: string; remedy?: string }
    wrong.value = [sentence ?? String(error), remedy].filter(Boolean).join(' ')
    if (!Object.keys(fields).length) seen.value = null
  }
  busy.value = ''
}
function chooseFile(chosen: File) {
  file.value = chosen
  delivery.value = ''
  text.value = ''
  how.value = {}
  void look()
}
function chooseDelivery(name: string) {
  delivery.value = name
  file.value = null
  text.value = ''
  how.value = {}
  void look()
}
function typed() {
  file.value = null
  delivery.value = ''
  seen.value = null
}
function setColumn(at: number, role: Role) {
  const now = [...(seen.value?.columns ?? [])]
  now.forEach((each, n) => role && each === role && n !== at && (now[n] = ''))
  now[at] = role
  void look({ columns: now })
}
function setPart(name: string, role: PartRole) {
  const now = Object.fromEntries((seen.value?.parts ?? []).map((p) => [p.name, p.role]))
  void look({ roles: { ...now, [name]: role } })
}
const columns = computed(() => seen.value?.sample.length && seen.value.columns.length)
const extent = computed(() => {
  const b = seen.value?.bounds ?? []
  if (b.length !== 4) return ''
  return `E ${shown(b[0])} to ${shown(b[2])}, N ${shown(b[1])} to ${shown(b[3])} (${shown(b[2] - b[0])} × ${shown(b[3] - b[1])})`
})
async function keep() {
  busy.value = 'taking in'
  const given = { ...how.value, unit: unit.value, level_unit: levelUnit.value }
  const saved = await save(() => {
    if (delivery.value)
      return ask(
        client.POST('/api/projects/{project_id}/surveys/feed', {
          params: path.value,
          body: { name: delivery.value, ...given } as never,
        }),
      )
    if (!file.value)
      return ask(
        client.POST('/api/projects/{project_id}/surveys/pasted', {
          params: path.value,
          body: { text: text.value, ...given } as never,
        }),
      )
    const form = new FormData()
    form.append('file', file.value)
    form.append('how', JSON.stringify(given))
    return sendFile<Schemas['Answer']>(`/api/projects/${projectId.value}/surveys/file`, form)
  })
  busy.value = ''
  if (saved) emit('done', saved.id ?? null)
}
const sentAt = (iso: string) => `${day(iso.slice(0, 10))} ${new Date(iso).toTimeString().slice(0, 5)}`
const taken = computed(() => (seen.value?.ground ?? 0) + (seen.value?.formation ?? 0))
</script>

<template>
  <Dialog title="Levels" wide @close="emit('done', null)">
    <p class="quiet">
      A CSV, text, XLSX, DXF, LandXML or GeoJSON file, or rows pasted from a spreadsheet. Nothing is kept
      until it was seen below; what looks wrong level by level is listed afterwards, and decided there.
    </p>
    <div class="from">
      <FileDrop
        accept=".csv,.txt,.xyz,.asc,.pts,.xlsx,.dxf,.xml,.landxml,.geojson,.json"
        test="levels-file"
        area
        @chosen="chooseFile"
      >
        <b>{{ file?.name ?? 'Drop a file of levels here, or choose one' }}</b>
      </FileDrop>
      <p v-if="deliveries?.length" class="asked">
        <label
          >Or from the survey feed
          <ChoiceField
            class="feed"
            :value="delivery || null"
            :options="deliveries.map((d) => ({ value: d.name, label: `${d.name}, ${sentAt(d.made)}` }))"
            label="File of the survey feed"
            placeholder="choose what was sent"
            @choose="chooseDelivery"
        /></label>
      </p>
      <NInput
        v-model:value="text"
        type="textarea"
        :rows="3"
        placeholder="Or paste rows: E  N  Z  code"
        :input-props="{ 'aria-label': 'Rows pasted' }"
        @update:value="typed"
      />
      <NButton v-if="text.trim()" size="small" :disabled="busy !== ''" @click="look()"
        >Read these rows</NButton
      >
    </div>
    <p v-if="busy" class="busy" role="status">
      <NSpin :size="14" /> {{ busy }} {{ file?.name ?? 'the rows' }}…
    </p>
    <p v-if="wrong" class="bad" role="alert">{{ wrong }}</p>
    <template v-if="seen">
      <div v-if="columns" class="asked">
        <label
          >Easting and northing in
          <ChoiceField
            class="unit"
            :value="unit"
            :options="UNITS"
            label="Unit of easting and northing"
            @choose="unit = $event"
        /></label>
        <label
          >levels in
          <ChoiceField
            class="unit"
            :value="levelUnit"
            :options="UNITS"
            label="Unit of levels"
            @choose="levelUnit = $event"
        /></label>
        <label v-if="seen.kind === 'text'"
          >decimals
          <ChoiceField
            class="sign"
            :value="seen.decimal"
            :options="[
              { value: 'point', label: '12.5' },
              { value: 'comma', label: '12,5' },
            ]"
            label="Decimal sign"
            @choose="look({ decimal: $event })"
        /></label>
        <label v-if="seen.sheets.length > 1"
          >sheet
          <ChoiceField
            class="sheet"
            :value="seen.sheet"
            :options="seen.sheets.map((s) => ({ value: s, label: s }))"
            label="Sheet of the workbook"
            @choose="look({ sheet: $event, columns: [], header: null })"
        /></label>
        <NCheckbox :checked="seen.header" @update:checked="look({ header: $event })"
          >first row names the columns</NCheckbox
        >
      </div>
      <div v-if="columns" class="sample">
        <table aria-label="First rows of the file">
          <thead>
            <tr>
              <th v-for="(role, n) in seen.columns" :key="n">
                <span v-if="seen.heads[n]" class="quiet">{{ seen.heads[n] }}</span>
                <ChoiceField
                  :value="role"
                  :options="ROLES"
                  :label="`Column ${n + 1} is`"
                  @choose="setColumn(n, $event)"
                />
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(row, r) in seen.sample.slice(0, 8)" :key="r">
              <td v-for="(role, n) in seen.columns" :key="n" class="num" :class="{ out: !role }">
                {{ row[n] }}
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <template v-if="seen.parts.length">
        <div v-if="seen.kind === 'dxf'" class="asked">
          <label
            >Told apart by
            <ChoiceField
              class="sheet"
              :value="(how.by as string) ?? 'layer'"
              :options="[
                { value: 'layer', label: 'layer' },
                { value: 'colour', label: 'colour' },
              ]"
              label="Parts told apart by"
              @choose="look({ by: $event, roles: {} })"
          /></label>
        </div>
        <div class="sample">
          <table class="parts" aria-label="Parts of the file">
            <tbody>
              <tr v-for="part in seen.parts" :key="part.name">
                <td>{{ part.name }}</td>
                <td class="num">{{ shown(part.holds, 0) }}</td>
                <td class="role">
                  <ChoiceField
                    :value="part.role"
                    :options="PARTS"
                    :label="`${part.name} is`"
                    @choose="setPart(part.name, $event)"
                  />
                </td>
              </tr>
            </tbody>
          </table>
        </div>
      </template>
      <p v-if="seen.says" class="bad" role="status">{{ seen.says }}</p>
      <p v-else>
        <b class="num">{{ shown(seen.ground, 0) }}</b> ground levels<template v-if="seen.formation"
          >, <b class="num">{{ shown(seen.formation, 0) }}</b> formation levels</template
        ><template v-if="seen.lines">, {{ seen.lines }} lines</template>.
        <span class="quiet num">{{ extent }}</span>
      </p>
      <ul v-if="seen.findings.length || seen.doubts.length" class="said">
        <li v-for="says in [...seen.doubts, ...seen.findings]" :key="says">{{ says }}</li>
      </ul>
      <NButton type="primary" :disabled="!taken || busy !== ''" @click="keep"
        >Take in {{ shown(taken, 0) }} levels</NButton
      >
    </template>
  </Dialog>
</template>

<style scoped>
p {
  margin: 4px 0 8px;
}
.from {
  display: grid;
  gap: 8px;
}
.from :deep(.n-upload-dragger) {
  padding: 12px;
}
.busy {
  display: flex;
  align-items: center;
  gap: 8px;
}
.asked {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 14px;
  padding: 8px 0;
}
.asked label {
  display: flex;
  align-items: center;
  gap: 6px;
}
.unit {
  width: 92px;
}
.sign {
  width: 84px;
}
.feed {
  width: 300px;
}
.sheet {
  width: 140px;
}
.sample {
  max-width: 100%;
  max-height: 236px;
  overflow: auto;
  border: 1px solid var(--rule);
}
table {
  border-collapse: collapse;
}
.parts {
  width: 100%;
}
.parts td {
  vertical-align: middle;
}
.role {
  width: 190px;
}
th {
  min-width: 104px;
  padding: 2px 4px;
  font-weight: 400;
  text-align: left;
}
td {
  padding: 2px 8px;
  border-top: 1px solid var(--rule);
}
.out {
  color: #a39a8b;
}
.said {
  max-height: 120px;
  margin: 4px 0 10px;
  padding-left: 18px;
  overflow-y: auto;
}
</style>
