<script setup lang="ts">
// A kind of trench: its measures in a form, its section drawn to them, where it stands on shelves.
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useTrenchKind } from '../../api/ground'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import { useShelves } from '../../api/shelves'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { useWalkStore } from '../../desk/walk'
import { lengthHere, unitHere } from '../../desk/ways'
import {
  documentOf,
  MARKS,
  SIDES,
  type KindDocument,
  type KindLayer,
  type KindRestored,
  type KindWidth,
} from './kinds'
import TrenchSection from './TrenchSection.vue'

const props = defineProps<{ kind: number; readonly: boolean }>()
const emit = defineEmits<{ made: [id: number] }>()
const walk = useWalkStore()
const { save, projectId } = useSave()
const shelves = useShelves()
const { data: kind } = useTrenchKind(() => props.kind)
const given = computed(() => (kind.value ? documentOf(kind.value) : null))
const depth = ref('')
const drawn = ref<Schemas['KindDrawn'] | null>(null)
const of = computed(() => ({ params: { path: { project_id: projectId.value, trench_kind: props.kind } } }))
watch(
  () => kind.value?.id,
  () => kind.value && walk.offer(`trench-kind:${kind.value.id}`),
  { immediate: true },
)
watch(
  [given, depth],
  async ([document]) => {
    if (!document) return
    const params = { path: { project_id: projectId.value } }
    const deep = Number(depth.value.replace(',', '.')) || 0
    drawn.value = await ask(
      client.POST('/api/projects/{project_id}/trench-kinds/drawn', {
        params,
        body: { document: { ...document }, depth: Math.min(deep, 50) },
      }),
    )
  },
  { immediate: true },
)
const change = (fields: Partial<KindDocument>) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/trench-kinds/{trench_kind}', {
        ...of.value,
        body: { version: version ?? kind.value!.version, document: { ...fields } },
      }),
    ),
  )
function changeLayer(n: number, fields: Partial<KindLayer>) {
  const layers = given.value!.layers.map((each, at) => (at === n ? { ...each, ...fields } : each))
  return change({ layers })
}
function changeRestored(n: number, fields: Partial<KindRestored>) {
  const restored = given.value!.restored.map((each, at) => (at === n ? { ...each, ...fields } : each))
  return change({ restored })
}
function changeWidth(n: number, fields: Partial<KindWidth>) {
  const widths = given.value!.widths.map((each, at) => (at === n ? { ...each, ...fields } : each))
  return change({ widths })
}
/** The first holds at any depth; one more goes before it, for what is less deep. */
const addWidth = () => {
  const { widths } = given.value!
  const wide = String(drawn.value?.bottom ? Number(lengthHere(drawn.value.bottom).toFixed(2)) : 1)
  if (!widths.length) return change({ widths: [{ depth: '', width: wide }] })
  const deep = Number(widths[widths.length - 2]?.depth || 0) + 1
  return change({ widths: [...widths.slice(0, -1), { depth: String(deep), width: wide }, widths[widths.length - 1]] }) // prettier-ignore
}
const addLayer = () => {
  const { layers } = given.value!
  const last = layers[layers.length - 1]
  const over = last?.mark === 'crown' ? last.over : ''
  const layer = {
    name: `Layer ${layers.length + 1}`,
    mark: 'crown' as const,
    over,
    density: '1.8',
    extra: '',
  }
  return change({ layers: [...layers, layer] })
}
const addRestored = () => {
  const { restored } = given.value!
  const name = restored.length ? `Course ${restored.length + 1}` : 'Topsoil'
  const one = { name, thickness: unitHere('m') === 'm' ? '0.15' : '0.5', overlap: '', density: '', extra: '' }
  return change({ restored: [...restored, one] })
}
const without = <T,>(rows: T[], n: number) => rows.filter((_, at) => at !== n)
const remove = () =>
  save(() => ask(client.DELETE('/api/projects/{project_id}/trench-kinds/{trench_kind}', of.value)))
async function copy() {
  const document = { ...given.value!, name: `${given.value!.name}, copy`.slice(0, 60) }
  const params = { path: { project_id: projectId.value } }
  const saved = await save(() =>
    ask(client.POST('/api/projects/{project_id}/trench-kinds', { params, body: { document } })),
  )
  if (saved?.id) emit('made', saved.id)
}
const put = (shelf: number) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/trench-kinds/{trench_kind}/shelf', {
        ...of.value,
        body: { shelf },
      }),
    ),
  )
const m = unitHere('m')
</script>

<template>
  <template v-if="kind && given">
    <div class="desk-head">
      <EntryField
        class="name"
        :value="given.name"
        label="Name of the kind"
        :disabled="readonly"
        @change="change({ name: $event })"
      />
      <span class="quiet">{{ kind.runs ? `${kind.runs} runs are of it` : 'no run is of it yet' }}</span>
      <span v-if="kind.shelf_number" class="quiet">number {{ kind.shelf_number }} of its shelf</span>
      <span class="push"></span>
      <ChoiceField
        v-if="!readonly && shelves?.length"
        class="shelf"
        :value="null"
        :options="shelves.map((s) => ({ value: s.id, label: s.name }))"
        label="Put the kind on a shelf"
        placeholder="Put on a shelf…"
        @choose="put"
      />
      <template v-if="!readonly">
        <NButton text @click="copy">Copy</NButton>
        <NButton text @click="remove">Delete</NButton>
      </template>
    </div>
    <div class="both">
      <div class="asks scroll">
        <h3>Pipe</h3>
        <label class="line"
          ><span>Called</span
          ><EntryField
            :value="given.pipe"
            label="Pipe"
            :disabled="readonly"
            @change="change({ pipe: $event })"
        /></label>
        <p class="line two">
          <span>Bore, wall {{ m }}</span>
          <EntryField
            number
            :value="given.bore"
            placeholder="no pipe"
            label="Bore of the pipe"
            :disabled="readonly"
            @change="change({ bore: $event })"
          />
          <EntryField
            number
            :value="given.wall"
            placeholder="0"
            label="Wall of the pipe"
            :disabled="readonly"
            @change="change({ wall: $event })"
          />
        </p>
        <NCheckbox
          size="small"
          :checked="given.pumped"
          :disabled="readonly"
          @update:checked="change({ pumped: $event })"
          >pumped: it may rise</NCheckbox
        >
        <p v-if="!given.pumped" class="line two">
          <span>Falls between</span>
          <EntryField
            number
            :value="given.flattest"
            placeholder="any"
            title="1 % or 1:100"
            label="Flattest fall"
            :disabled="readonly"
            @change="change({ flattest: $event })"
          />
          <EntryField
            number
            :value="given.steepest"
            placeholder="any"
            title="10 % or 1:10"
            label="Steepest fall"
            :disabled="readonly"
            @change="change({ steepest: $event })"
          />
        </p>
        <label class="line"
          ><span>Least cover {{ m }}</span
          ><EntryField
            number
            :value="given.cover"
            placeholder="any"
            label="Least cover over the pipe"
            :disabled="readonly"
            @change="change({ cover: $event })"
        /></label>
        <h3>Trench</h3>
        <label class="line"
          ><span>Bottom {{ m }}</span
          ><EntryField
            number
            :value="given.width"
            :placeholder="given.widths.length ? 'by depth' : 'by pipe and depth'"
            label="Width of the bottom"
            :disabled="readonly"
            @change="change({ width: $event })"
        /></label>
        <template v-if="!given.width">
          <p v-for="(row, n) in given.widths" :key="n" class="line two">
            <span
              >down to, wide {{ m }}
              <NButton
                v-if="!readonly"
                text
                :aria-label="`Delete width ${n + 1}`"
                @click="change({ widths: without(given.widths, n) })"
                >×</NButton
              ></span
            >
            <EntryField
              number
              :value="row.depth"
              placeholder="any"
              :label="`Depth of width ${n + 1}`"
              :disabled="readonly"
              @change="changeWidth(n, { depth: $event })"
            />
            <EntryField
              number
              :value="row.width"
              :label="`Width ${n + 1} of the bottom`"
              :disabled="readonly"
              @change="changeWidth(n, { width: $event })"
            />
          </p>
          <p v-if="!readonly" class="add">
            <NButton size="small" @click="addWidth">{{
              given.widths.length ? 'Add a width' : 'Own widths by depth'
            }}</NButton>
          </p>
        </template>
        <label class="line"
          ><span>Below the pipe {{ m }}</span
          ><EntryField
            number
            :value="given.bed"
            placeholder="0"
            label="Dug below the pipe"
            :disabled="readonly"
            @change="change({ bed: $event })"
        /></label>
        <label class="line"
          ><span>Sides</span
          ><ChoiceField
            :value="given.sides"
            :options="SIDES"
            label="Sides of the trench"
            :disabled="readonly"
            @choose="change({ sides: $event })"
        /></label>
        <label v-if="given.sides === 'battered' || given.sides === 'flared'" class="line"
          ><span>Batter</span
          ><EntryField
            number
            :value="given.batter"
            placeholder="1:0.5"
            title="1:0.5 is 1 up to 0.5 along"
            label="Batter of the sides"
            :disabled="readonly"
            @change="change({ batter: $event })"
        /></label>
        <label v-if="given.sides === 'flared'" class="line"
          ><span>Upright for {{ m }}</span
          ><EntryField
            number
            :value="given.upright"
            label="Upright part of the sides"
            :disabled="readonly"
            @change="change({ upright: $event })"
        /></label>
        <p v-if="given.sides === 'benched'" class="line two">
          <span>Benches high, wide</span>
          <EntryField
            number
            :value="given.step_height"
            label="Height between benches"
            :disabled="readonly"
            @change="change({ step_height: $event })"
          />
          <EntryField
            number
            :value="given.step_width"
            label="Width of benches"
            :disabled="readonly"
            @change="change({ step_width: $event })"
          />
        </p>
        <NCheckbox
          size="small"
          :checked="given.supported"
          :disabled="readonly"
          @update:checked="change({ supported: $event })"
          >sides are supported while it is open</NCheckbox
        >
        <h3>Laid in it, from below</h3>
        <section v-for="(layer, n) in given.layers" :key="n" class="part">
          <p class="line">
            <EntryField
              class="named"
              :value="layer.name"
              :label="`Name of layer ${n + 1}`"
              :disabled="readonly"
              @change="changeLayer(n, { name: $event })"
            />
            <NButton
              v-if="!readonly"
              text
              :aria-label="`Delete layer ${n + 1}`"
              @click="change({ layers: without(given.layers, n) })"
              >×</NButton
            >
          </p>
          <p class="line two">
            <span>to the pipe’s, +</span>
            <ChoiceField
              :value="layer.mark"
              :options="MARKS"
              :label="`Mark of layer ${n + 1}`"
              :disabled="readonly"
              @choose="changeLayer(n, { mark: $event })"
            />
            <EntryField
              number
              :value="layer.over"
              placeholder="0"
              :label="`Layer ${n + 1} over its mark`"
              :disabled="readonly"
              @change="changeLayer(n, { over: $event })"
            />
          </p>
          <p class="line two">
            <span>t/m³, and more %</span>
            <EntryField
              number
              :value="layer.density"
              placeholder="none"
              :label="`Density of layer ${n + 1}`"
              :disabled="readonly"
              @change="changeLayer(n, { density: $event })"
            />
            <EntryField
              number
              :value="layer.extra"
              placeholder="0"
              title="For compaction and loss"
              :label="`Allowance of layer ${n + 1}`"
              :disabled="readonly"
              @change="changeLayer(n, { extra: $event })"
            />
          </p>
        </section>
        <p v-if="!readonly" class="add">
          <NButton size="small" @click="addLayer">Add a layer</NButton
          ><span class="quiet">the rest is backfill</span>
        </p>
        <h3>Put back at the top, from above</h3>
        <section v-for="(layer, n) in given.restored" :key="n" class="part">
          <p class="line">
            <EntryField
              class="named"
              :value="layer.name"
              :label="`Name of course ${n + 1}`"
              :disabled="readonly"
              @change="changeRestored(n, { name: $event })"
            />
            <NButton
              v-if="!readonly"
              text
              :aria-label="`Delete course ${n + 1}`"
              @click="change({ restored: without(given.restored, n) })"
              >×</NButton
            >
          </p>
          <p class="line two">
            <span>Thick, and beyond {{ m }}</span>
            <EntryField
              number
              :value="layer.thickness"
              :label="`Thickness of course ${n + 1}`"
              :disabled="readonly"
              @change="changeRestored(n, { thickness: $event })"
            />
            <EntryField
              number
              :value="layer.overlap"
              placeholder="0"
              title="Beyond each side of the trench"
              :label="`Course ${n + 1} beyond the sides`"
              :disabled="readonly"
              @change="changeRestored(n, { overlap: $event })"
            />
          </p>
          <p class="line two">
            <span>t/m³, and more %</span>
            <EntryField
              number
              :value="layer.density"
              placeholder="none"
              :label="`Density of course ${n + 1}`"
              :disabled="readonly"
              @change="changeRestored(n, { density: $event })"
            />
            <EntryField
              number
              :value="layer.extra"
              placeholder="0"
              :label="`Allowance of course ${n + 1}`"
              :disabled="readonly"
              @change="changeRestored(n, { extra: $event })"
            />
          </p>
        </section>
        <p v-if="!readonly" class="add"><NButton size="small" @click="addRestored">Add a course</NButton></p>
      </div>
      <div class="picture">
        <p class="bar">
          <b>In section</b>
          <label class="quiet deep"
            >at a depth of
            <EntryField
              number
              :value="depth"
              :placeholder="drawn && drawn.depth ? drawn.depth.toFixed(2) : ''"
              label="Depth it is drawn at"
              @change="depth = $event"
            />
            m</label
          >
        </p>
        <p v-if="drawn?.says" class="says">{{ drawn.says }}</p>
        <TrenchSection
          v-else-if="drawn"
          :shapes="drawn.shapes"
          :pipe="drawn.pipe"
          :depth="drawn.depth"
          :bottom="drawn.bottom"
          :label="given.name"
        />
      </div>
    </div>
  </template>
</template>

<style scoped>
.name {
  flex: 1;
  min-width: 120px;
  max-width: 280px;
  font-weight: 600;
}
.shelf {
  width: 150px;
}
.both {
  display: grid;
  grid-template-columns: 340px minmax(0, 1fr);
  flex: 1;
  min-height: 0;
}
.asks {
  --asked: 122px;
  padding: 4px 14px 24px;
  border-right: 1px solid var(--rule);
}
.picture {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
.bar {
  display: flex;
  align-items: center;
  gap: 14px;
  margin: 0;
  padding: 5px 14px;
  border-bottom: 1px solid var(--rule);
}
.deep {
  display: grid;
  grid-template-columns: auto 76px auto;
  align-items: center;
  gap: 6px;
}
.says {
  margin: 0;
  padding: 6px 14px;
  background: var(--accent-soft);
}
</style>
