<script setup lang="ts">
// The head of a route: what it is called, its ground, where its centreline comes from, how it is reckoned, the bill.
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref } from 'vue'
import { sendFile, type Schemas } from '../../api/client'
import { useGround, useRunsOfSheets } from '../../api/ground'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import EntryField from '../../desk/EntryField.vue'
import { fieldsOf } from '../../desk/fields'
import FileDrop from '../../desk/FileDrop.vue'
import Menu from '../../desk/Menu.vue'
import { unitHere } from '../../desk/ways'
import type { Way } from './routes'
import SoilFields from './SoilFields.vue'
import { useWork } from './work'
import WorkName from './WorkName.vue'

const props = defineProps<{ way: Way; readonly: boolean; drawing: boolean }>()
const emit = defineEmits<{ change: [fields: Partial<Schemas['RouteChanged']>]; draw: []; dropSections: [] }>()
const current = computed(() => props.way)
const { rename, remove, bill, trySave, projectId } = useWork(current)
const { field } = fieldsOf(
  () => props.way,
  (fields) => emit('change', fields as Partial<Schemas['RouteChanged']>),
  () => props.readonly,
)
const { data: ground } = useGround()
const bringing = ref(false)
const { data: runs } = useRunsOfSheets(
  () => props.way.id,
  () => !props.readonly,
)
const surfaces = computed(() => (ground.value?.surfaces ?? []).map((s) => ({ value: s.id, label: s.name })))
const RULES = asOptions(['mean area', 'prismoidal', 'frustum'] as const)
const WHAT = [
  { value: 'corners' as const, label: 'corners of the centreline' },
  { value: 'levels' as const, label: 'the long section' },
  { value: 'sections' as const, label: 'sections' },
]
const what = ref<(typeof WHAT)[number]['value']>('corners')
const alignment = ref('')
const asked = ref<File | null>(null)
const says = ref('')
async function bring(file: File) {
  const form = new FormData()
  form.append('file', file)
  form.append('what', what.value)
  form.append('alignment', alignment.value)
  const said = await trySave(() =>
    sendFile<Schemas['Answer']>(`/api/projects/${projectId.value}/routes/${props.way.id}/file`, form),
  )
  says.value = said ?? ''
  asked.value = said && /alignments/.test(said) ? file : null
  if (!said) bringing.value = false
}
</script>

<template>
  <div class="desk-head">
    <WorkName :of="way" called="route" placeholder="what it is" :readonly="readonly" :rename="rename" />
    <label class="quiet"
      >over
      <ChoiceField
        class="ground"
        :value="way.ground"
        :options="surfaces"
        label="Surface that is the ground"
        placeholder="choose the ground"
        :disabled="readonly"
        @choose="emit('change', { ground: $event })"
    /></label>
    <span class="push"></span>
    <template v-if="!readonly">
      <NButton
        size="small"
        :type="drawing ? 'primary' : 'default'"
        title="Draw the centreline on the plan"
        @click="emit('draw')"
        >Draw</NButton
      >
      <Menu label="Bring in" right>
        <template #default="{ close }">
          <NButton text @click="(close(), (bringing = true))">From CSV or LandXML…</NButton>
          <template v-if="runs?.length">
            <span class="quiet">along a run on a sheet</span>
            <NButton
              v-for="r in runs"
              :key="r.figure"
              text
              @click="(close(), emit('change', { figure: r.figure }))"
              >{{ r.name }}, {{ r.sheet }}</NButton
            >
          </template>
          <span v-else class="quiet"
            >A run on a sheet serves too, once two of the sheet’s points are known.</span
          >
          <NButton v-if="way.figure" text @click="(close(), emit('change', { figure: null }))"
            >No longer along the run</NButton
          >
          <NButton v-if="way.imported" text @click="(close(), emit('dropSections'))"
            >Take out {{ way.imported }} sections</NButton
          >
        </template>
      </Menu>
      <Menu label="Reckoned" right>
        <div class="asks">
          <label class="line"
            ><span>Section every {{ unitHere('m') }}</span
            ><EntryField v-bind="field('interval')" number label="Distance of sections"
          /></label>
          <label class="line"
            ><span>Rule</span
            ><ChoiceField
              :value="way.rule as 'frustum'"
              :options="RULES"
              label="Rule of volumes"
              @choose="emit('change', { rule: $event })"
          /></label>
          <NCheckbox size="small" :checked="way.curved" @update:checked="emit('change', { curved: $event })"
            >corrected in curves</NCheckbox
          >
          <label class="line"
            ><span>First chainage {{ unitHere('m') }}</span
            ><EntryField v-bind="field('begins')" number placeholder="0" label="First chainage"
          /></label>
          <label class="line"
            ><span>Free haul {{ unitHere('m') }}</span
            ><EntryField v-bind="field('free')" number placeholder="0" label="Free haul"
          /></label>
          <SoilFields :of="way" @change="emit('change', $event)" />
          <label v-if="way.imported" class="line"
            ><span>Lines from the top</span
            ><EntryField v-bind="field('from_top')" label="Lines from the top down"
          /></label>
        </div>
        <NButton text @click="remove">Delete this route</NButton>
      </Menu>
      <Menu :label="way.billed ? 'In the bill' : 'Into the bill'" right>
        <template #default="{ close }">
          <NButton text @click="(bill(''), close())">Whole quantities</NButton>
          <NButton text :disabled="!way.stretched" @click="(bill('stretch'), close())"
            >Each by stretch</NButton
          >
          <NButton text :disabled="!way.staged" @click="(bill('stage'), close())">Each by stage</NButton>
          <NButton text @click="(bill('layer'), close())">Layer by layer</NButton>
        </template>
      </Menu>
    </template>
  </div>
  <Dialog v-if="bringing" title="Bring a route in" @close="((bringing = false), (says = ''))">
    <p>
      CSV of corners (easting, northing, radius), of the long section (chainage, level, vertical curve) or of
      sections (chainage, layer, offset, level); or LandXML, which may hold all three. What is brought in
      stands in place of what is there.
    </p>
    <label class="asked"
      >A CSV holds<ChoiceField
        :value="what"
        :options="WHAT"
        label="What the CSV holds"
        @choose="what = $event"
    /></label>
    <label v-if="asked" class="asked"
      >Which alignment<EntryField
        :value="alignment"
        label="Which alignment"
        @change="((alignment = $event), bring(asked!))"
    /></label>
    <p v-if="says" role="alert" class="desk-says">{{ says }}</p>
    <FileDrop accept=".csv,.txt,.xml,.landxml" test="route-file" area @chosen="bring"
      >Drop the file here, or click to choose it.</FileDrop
    >
  </Dialog>
</template>

<style scoped>
.ground {
  width: 104px;
}
.desk-head {
  gap: 10px;
}
.asks {
  --asked: 130px;
  width: 246px;
}
.asked {
  display: grid;
  grid-template-columns: 120px 1fr;
  align-items: center;
  gap: 8px;
  margin-bottom: 4px;
}
</style>
