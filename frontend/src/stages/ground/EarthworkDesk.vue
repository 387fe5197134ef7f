<script setup lang="ts">
// An earthwork: the map of cut and fill, sections and squares one key to the next, the methods side by side.
import { NButton } from 'naive-ui'
import { computed, onBeforeUnmount, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useBlocks, useEarthMap, useEarthwork, useRow, useRows } from '../../api/ground'
import { ask, client, type Schemas } from '../../api/client'
import EntryField from '../../desk/EntryField.vue'
import Menu from '../../desk/Menu.vue'
import { useNotices } from '../../desk/notices'
import { shown } from '../../desk/numbers'
import GroundPlan from '../../desk/plan/GroundPlan.vue'
import type { PlanShape } from '../../desk/plan/looks'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import { lengthHere, unitHere } from '../../desk/ways'
import BelowPlan from './BelowPlan.vue'
import { useBeneath } from './beneath'
import { useEarth } from './earth'
import EarthForm from './EarthForm.vue'
import EarthShares from './EarthShares.vue'
import BlockTable from './BlockTable.vue'
import ProofDialog from './ProofDialog.vue'
import MethodTable from './MethodTable.vue'
import SectionDrawing from './SectionDrawing.vue'
import { areaShown, volumeShown } from './units'
import WorkName from './WorkName.vue'

const props = defineProps<{ element: number; readonly: boolean }>()
const route = useRoute()
const walk = useWalkStore()
const notices = useNotices()
const tally = useTally()
const { data: work } = useEarthwork(() => props.element)
const made = computed(() => work.value?.made ?? '')
const earth = useEarth(work)
const { data: map } = useEarthMap(() => props.element, made)
const { data: rows, error: rowsRefused } = useRows(() => props.element, made)
const { contours, relief, around } = useBeneath(() => work.value?.ground ?? null)
const LOOKS = { sections: 'Sections', squares: 'Squares', across: 'Across' } as const
const looks = ref<keyof typeof LOOKS>('sections')
const { data: blocks, error: blocksRefused } = useBlocks(
  () => props.element,
  made,
  () => looks.value === 'squares',
)
const at = ref<number | null>(null)
const block = ref<number | null>(null)
const { data: row } = useRow(() => props.element, made, at)
const across = ref<Schemas['SectionView'] | null>(null)
const acrossLine = ref<number[][] | null>(null)
const drawingAcross = ref(false)
const asking = ref(false)
const proving = ref(false)
const plan = ref<InstanceType<typeof GroundPlan>>()

// Until something is asked of it, the number in focus is its cut; and what isn't said yet is asked.
watch(
  () => work.value?.id,
  () => {
    if (!work.value) return
    walk.offer(`quantity:${props.element}:cut`)
    if (!work.value.formations.length) asking.value = true
  },
  { immediate: true },
)
watch(
  () => route.query.at,
  (ref_) => {
    const [kind, element, place] = String(ref_ ?? '').split(':')
    if (Number(element) !== props.element) return
    if (kind === 'earth-row') [looks.value, at.value] = ['sections', Number(place)]
    if (kind === 'earth-block') [looks.value, block.value] = ['squares', Number(place)]
  },
  { immediate: true },
)
// The longest section stands first: the middle one.
watch(
  rows,
  (now) => {
    const last = now?.rows.length ?? 0
    if (last && (at.value === null || at.value >= last)) at.value = Math.floor(last / 2)
  },
  { immediate: true },
)
watch(made, () => acrossLine.value && void lookAcross(acrossLine.value))

const pairs = (flat: number[]) =>
  Array.from({ length: flat.length / 2 }, (_, n) => [flat[2 * n], flat[2 * n + 1]])
const closed = (corners: (number | null)[][]) => {
  const places = corners.map((c) => [c[0] ?? 0, c[1] ?? 0])
  return [...places, places[0]]
}
const stale = computed(() => work.value?.state === 'working')
const shapes = computed<PlanShape[]>(() => {
  const found: PlanShape[] = []
  const now = work.value
  if (!now) return found
  map.value?.cut.forEach((rings, n) => found.push({ key: `cut:${n}`, kind: 'cut', rings: rings.map(pairs) }))
  map.value?.fill.forEach((rings, n) => found.push({ key: `fill:${n}`, kind: 'fill', rings: rings.map(pairs) }))
  map.value?.footprint.forEach((rings, n) => found.push({ key: `foot:${n}`, kind: 'row', line: pairs(rings[0]) }))
  now.classes.filter((c) => c.outline.length).forEach((c) => found.push({ key: `class:${c.id}`, kind: 'class', line: closed(c.outline), label: c.name }))
  now.stages.forEach((s) => found.push({ key: `stage:${s.id}`, kind: 'stage', line: closed(s.outline), label: s.name }))
  now.formations.filter((f) => f.outline.length).forEach((f) => found.push({ key: `outline:${f.id}`, kind: 'outline', line: closed(f.outline) }))
  map.value?.zero.forEach((line, n) => found.push({ key: `zero:${n}`, kind: 'zero', line: pairs(line) }))
  if (looks.value === 'sections')
    rows.value?.rows.forEach((r) => {
      const strong = r.at === at.value
      found.push({ key: `row:${r.at}`, kind: 'row', line: r.ends, strong, label: strong ? `row ${r.at + 1}` : undefined })
    })
  if (looks.value === 'squares')
    blocks.value?.blocks.forEach((b, n) =>
      found.push({ key: `block:${n}`, kind: 'block', rings: [pairs(b.outline)], strong: n === block.value, label: volumeShown(b.volume) }),
    )
  if (looks.value === 'across' && acrossLine.value)
    found.push({ key: 'across', kind: 'section', line: acrossLine.value, label: 'across' })
  return found
}) // prettier-ignore
const bounds = computed(() => around(map.value?.bounds, 0.12))
const tool = computed(() => (earth.drawing.value ? 'ring' : drawingAcross.value ? 'line' : ''))
async function drawn(corners: number[][]) {
  const target = earth.drawing.value
  if (target) {
    earth.drawing.value = null
    await earth.outline(target.kind, target.id, corners)
    return
  }
  drawingAcross.value = false
  await lookAcross(corners)
}
async function lookAcross(line: number[][]) {
  looks.value = 'across'
  acrossLine.value = line
  const params = { path: { project_id: earth.projectId.value, element: props.element } }
  try {
    across.value = await ask(
      client.POST('/api/projects/{project_id}/earthworks/{element}/across', { params, body: { line } }),
    )
  } catch (error) {
    notices.show(error)
  }
}
function leave() {
  earth.drawing.value = null
  drawingAcross.value = false
}
function pick(key: string) {
  const [kind, id] = key.split(':')
  if (kind === 'row') goRow(Number(id))
  if (kind === 'block') goBlock(Number(id))
}
function goRow(to: number) {
  const last = (rows.value?.rows.length ?? 0) - 1
  at.value = Math.max(0, Math.min(last, to))
  looks.value = 'sections'
  walk.look(`earth-row:${props.element}:${at.value}`)
}
function goBlock(to: number) {
  const last = (blocks.value?.blocks.length ?? 0) - 1
  block.value = Math.max(0, Math.min(last, to))
  walk.look(`earth-block:${props.element}:${block.value}`)
  const b = blocks.value?.blocks[block.value]
  if (b) plan.value?.show([b.east, b.north, b.east, b.north])
}
function step(by: number) {
  if (looks.value === 'sections') goRow((at.value ?? 0) + by)
  else if (looks.value === 'squares') goBlock((block.value ?? -by) + by)
}
/** Looked at across: along a line that is drawn first. */
function look(at: keyof typeof LOOKS) {
  looks.value = at
  if (at === 'across') drawingAcross.value = true
}
const section = computed(() => (looks.value === 'across' ? across.value : row.value))
const rowNow = computed(() => rows.value?.rows[at.value ?? -1] ?? null)
const toNext = computed(() => {
  const now = rowNow.value
  if (looks.value !== 'sections' || !now || now.to_next === null) return ''
  const volumes = `cut ${volumeShown(now.next_cut)}, fill ${volumeShown(now.next_fill)} ${unitHere('m³')}`
  return `to next ${shown(lengthHere(now.to_next))} ${unitHere('m')}: ${volumes}`
})
const blockNow = computed(() => blocks.value?.blocks[block.value ?? -1] ?? null)
const first = computed(() => work.value?.formations[0] ?? null)
const balance = ref<Schemas['BalanceView'] | null>(null)
const finding = ref(false)
watch(made, () => (balance.value = null))
async function findBalance() {
  finding.value = true
  const params = { path: { project_id: earth.projectId.value, element: props.element } }
  try {
    balance.value = await ask(
      client.GET('/api/projects/{project_id}/earthworks/{element}/balance', { params }),
    )
  } catch (error) {
    notices.show(error)
  }
  finding.value = false
}
watch(
  [() => work.value?.cut, () => work.value?.fill],
  ([cut, fill]) => {
    if (cut === null || cut === undefined) return (tally.selected = [])
    const net = cut - (fill ?? 0)
    tally.selected = [
      {
        label: work.value?.mark ?? '',
        value: `${net > 0 ? '+' : ''}${volumeShown(net)}`,
        unit: unitHere('m³'),
      },
    ]
  },
  { immediate: true },
)
onBeforeUnmount(() => (tally.selected = []))
</script>

<template>
  <template v-if="work">
    <div class="desk-head">
      <WorkName
        :of="work"
        called="earthwork"
        placeholder="what it is"
        :readonly="readonly"
        :rename="earth.rename"
      />
      <template v-if="first && !first.surface">
        <label class="quiet"
          >to
          <EntryField
            class="level"
            number
            :value="first.level"
            label="Level of the formation"
            :disabled="readonly"
            @change="earth.changeFormation(first, { level: $event })"
        /></label>
        <NButton
          v-if="balance"
          text
          type="primary"
          title="Bring the formation to this level"
          :disabled="readonly"
          @click="earth.changeFormation(first, { level: balance.entry })"
          >Balance at {{ shown(lengthHere(balance.level)) }}</NButton
        >
        <NButton v-else text type="primary" :disabled="finding || stale || !made" @click="findBalance">{{
          finding ? 'finding…' : 'Where it balances'
        }}</NButton>
      </template>
      <span class="push"></span>
      <NButton
        size="small"
        :type="asking ? 'primary' : 'default'"
        @click="((asking = !asking), (walk.folded = false))"
        >Formation, classes</NButton
      >
      <NButton text :disabled="!made" @click="proving = true">Proof</NButton>
      <Menu v-if="!readonly" :label="work.billed ? 'In the bill' : 'Into the bill'" right>
        <template #default="{ close }">
          <NButton text @click="(earth.bill(''), close())">Whole quantities</NButton>
          <NButton text @click="(earth.bill('band'), close())">Digging by depth</NButton>
          <NButton text :disabled="!work.stages.length" @click="(earth.bill('stage'), close())"
            >Each by stage</NButton
          >
        </template>
      </Menu>
    </div>
    <p v-for="says in work.says" :key="says" class="desk-says">{{ says }}</p>
    <GroundPlan
      ref="plan"
      :stale="stale"
      :label="`Plan of ${work.mark}`"
      :relief="relief"
      :contours="contours"
      :shapes="shapes"
      :bounds="bounds"
      :tool="tool"
      @drawn="drawn"
      @leave="leave"
      @pick="pick"
    />
    <BelowPlan
      v-if="made"
      class="strip"
      label="Sections and squares; arrows go to the next"
      :model-value="looks"
      :tabs="LOOKS"
      stepping
      @update:model-value="look"
      @step="step"
    >
      <template #bar>
        <template v-if="looks === 'sections' && rowNow">
          <span class="steps"
            ><NButton text aria-label="Section before" :disabled="!at" @click="step(-1)">‹</NButton>
            <b>Row {{ rowNow.at + 1 }}</b> <span class="quiet">of {{ rows?.rows.length }}</span>
            <NButton
              text
              aria-label="Next section"
              :disabled="rowNow.at + 1 >= (rows?.rows.length ?? 0)"
              @click="step(1)"
              >›</NButton
            ></span
          >
          <span class="num cut">cut {{ areaShown(rowNow.cut) }} {{ unitHere('m²') }}</span>
          <span class="num fill">fill {{ areaShown(rowNow.fill) }} {{ unitHere('m²') }}</span>
        </template>
        <template v-else-if="looks === 'squares' && blockNow">
          <span class="steps"
            ><NButton text aria-label="Square before" :disabled="!block" @click="step(-1)">‹</NButton>
            <b>Square {{ (block ?? 0) + 1 }}</b> <span class="quiet">of {{ blocks?.blocks.length }}</span>
            <NButton text aria-label="Next square" @click="step(1)">›</NButton></span
          >
          <span class="num" :class="blockNow.volume >= 0 ? 'cut' : 'fill'"
            >{{ blockNow.volume >= 0 ? 'cut' : 'fill' }} {{ volumeShown(Math.abs(blockNow.volume)) }}
            {{ unitHere('m³') }}</span
          >
        </template>
        <span v-else-if="looks === 'squares'" class="quiet">{{
          blocksRefused?.message ?? 'Click a square, or press an arrow.'
        }}</span>
        <template v-else-if="looks === 'across' && across">
          <span class="num cut">cut {{ areaShown(across.cut) }} {{ unitHere('m²') }}</span>
          <span class="num fill">fill {{ areaShown(across.fill) }} {{ unitHere('m²') }}</span>
        </template>
        <span v-else-if="rowsRefused" class="bad">{{ rowsRefused.message }}</span>
      </template>
      <BlockTable v-if="looks === 'squares' && blocks" :blocks="blocks" :chosen="block" @pick="goBlock" />
      <SectionDrawing v-if="section && looks !== 'squares'" :section="section" :says="toNext" />
    </BelowPlan>
    <MethodTable
      v-if="work.methods.length"
      class="methods"
      :work="work"
      :readonly="readonly"
      @change="earth.change($event)"
    />
    <ProofDialog v-if="proving" :work="work" @close="proving = false" />
    <Teleport v-if="asking" defer to="#in-place">
      <EarthForm :work="work" :earth="earth" :readonly="readonly" @close="asking = false" />
    </Teleport>
    <Teleport defer to="#beside" :disabled="walk.folded || asking">
      <EarthShares v-if="!asking && work.shares.length" :work="work" />
    </Teleport>
  </template>
</template>

<style scoped>
.level {
  flex: none;
  width: 84px;
}
.desk-head {
  gap: 10px;
}
.strip {
  flex: 0 0 176px;
}
.cut {
  color: var(--accent-ink);
}
.fill {
  color: var(--main);
}
.methods {
  flex: none;
  border-top: 1px solid var(--ink);
}
</style>
