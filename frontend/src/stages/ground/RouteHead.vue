<script setup lang="ts">
// The head of a route: what it is called, its ground, where its centreline comes from, how it is reckoned, the bill.
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref } from 'vue'
import { sendFile, type Schemas } from '../../api/client'
import { useGround, useRunsOfSheets } from '../../api/ground'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import EntryField from '../../desk/EntryField.vue'
import FileDrop from '../../desk/FileDrop.vue'
import Menu from '../../desk/Menu.vue'
import { unitHere } from '../../desk/ways'
import type { Way } from './routes'
import { useWork } from './work'

const props = defineProps<{ way: Way; readonly: boolean; drawing: boolean }>()
const emit = defineEmits<{ change: [fields: Partial<Schemas['RouteChanged']>]; draw: []; dropSections: [] }>()
const current = computed(() => props.way)
const { rename, remove, bill, trySave, projectId } = useWork(current)
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
    <EntryField
      class="mark"
      :value="way.mark"
      label="Mark of the route"
      :disabled="readonly"
      @change="rename({ mark: $event })"
    />
    <EntryField
      class="name"
      :value="way.description"
      placeholder="what it is"
      label="Description"
      :disabled="readonly"
      @change="rename({ description: $event })"
    />
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
        <label class="asked"
          >Section every {{ unitHere('m')
          }}<EntryField
            number
            :value="way.interval"
            label="Distance of sections"
            @change="emit('change', { interval: $event })"
        /></label>
        <label class="asked"
          >Rule<ChoiceField
            :value="way.rule as 'frustum'"
            :options="RULES"
            label="Rule of volumes"
            @choose="emit('change', { rule: $event })"
        /></label>
        <NCheckbox size="small" :checked="way.curved" @update:checked="emit('change', { curved: $event })"
          >corrected in curves</NCheckbox
        >
        <label class="asked"
          >First chainage {{ unitHere('m')
          }}<EntryField
            number
            :value="way.begins"
            placeholder="0"
            label="First chainage"
            @change="emit('change', { begins: $event })"
        /></label>
        <label class="asked"
          >Free haul {{ unitHere('m')
          }}<EntryField
            number
            :value="way.free"
            placeholder="0"
            label="Free haul"
            @change="emit('change', { free: $event })"
        /></label>
        <label class="asked"
          >Bulking<EntryField
            number
            :value="way.bulking"
            label="Bulking factor"
            @change="emit('change', { bulking: $event })"
        /></label>
        <label class="asked"
          >Compacted<EntryField
            number
            :value="way.compacted"
            label="Compaction factor"
            @change="emit('change', { compacted: $event })"
        /></label>
        <label class="asked"
          >Lorry, loose {{ unitHere('m³')
          }}<EntryField
            number
            :value="way.lorry"
            placeholder="none"
            label="Load of a lorry"
            @change="emit('change', { lorry: $event })"
        /></label>
        <label v-if="way.imported" class="asked"
          >Lines from the top<EntryField
            :value="way.from_top"
            label="Lines from the top down"
            @change="emit('change', { from_top: $event })"
        /></label>
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
    <p v-if="says" role="alert" class="says">{{ says }}</p>
    <FileDrop accept=".csv,.txt,.xml,.landxml" test="route-file" area @chosen="bring"
      >Drop the file here, or click to choose it.</FileDrop
    >
  </Dialog>
</template>

<style scoped>
.mark {
  flex: none;
  width: 58px;
  font-weight: 600;
}
.name {
  flex: 1;
  min-width: 80px;
  max-width: 240px;
}
.ground {
  width: 104px;
}
.desk-head {
  gap: 10px;
}
.asked {
  display: grid;
  grid-template-columns: 120px 1fr;
  align-items: center;
  gap: 8px;
  margin-bottom: 4px;
}
.says {
  padding: 5px 10px;
  background: var(--accent-soft);
}
</style>
