<script setup lang="ts">
// A kind of trench: its measures in a form, its section drawn to them, where it stands on shelves.
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useTrenchKind } from '../../api/ground'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { fieldsOf } from '../../desk/fields'
import { useWalkStore } from '../../desk/walk'
import { lengthHere, unitHere } from '../../desk/ways'
import { documentOf, MARKS, SIDES, type KindDocument } from './kinds'
import ShelvedHead from './ShelvedHead.vue'
import TrenchSection from './TrenchSection.vue'

const props = defineProps<{ kind: number; readonly: boolean }>()
const emit = defineEmits<{ made: [id: number] }>()
const walk = useWalkStore()
const { save, projectId } = useSave()
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
const { field, inRow, changeRow, without } = fieldsOf(
  () => given.value!,
  change,
  () => props.readonly,
)
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
    <ShelvedHead
      it="the kind"
      :name="field('name')"
      :built="kind.runs ? `${kind.runs} runs are of it` : 'no run is of it yet'"
      :number="kind.shelf_number"
      :readonly="readonly"
      @put="put"
      @copy="copy"
      @remove="remove"
    />
    <div class="both">
      <div class="asks scroll">
        <h3>Pipe</h3>
        <label class="line"><span>Called</span><EntryField v-bind="field('pipe')" label="Pipe" /></label>
        <p class="line two">
          <span>Bore, wall {{ m }}</span>
          <EntryField number v-bind="field('bore')" placeholder="no pipe" label="Bore of the pipe" />
          <EntryField number v-bind="field('wall')" placeholder="0" label="Wall of the pipe" />
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
            v-bind="field('flattest')"
            placeholder="any"
            title="1 % or 1:100"
            label="Flattest fall"
          />
          <EntryField
            number
            v-bind="field('steepest')"
            placeholder="any"
            title="10 % or 1:10"
            label="Steepest fall"
          />
        </p>
        <label class="line"
          ><span>Least cover {{ m }}</span
          ><EntryField number v-bind="field('cover')" placeholder="any" label="Least cover over the pipe"
        /></label>
        <h3>Trench</h3>
        <label class="line"
          ><span>Bottom {{ m }}</span
          ><EntryField
            number
            v-bind="field('width')"
            :placeholder="given.widths.length ? 'by depth' : 'by pipe and depth'"
            label="Width of the bottom"
        /></label>
        <template v-if="!given.width">
          <p v-for="(_, n) in given.widths" :key="n" class="line two">
            <span
              >down to, wide {{ m }}
              <NButton
                v-if="!readonly"
                text
                :aria-label="`Delete width ${n + 1}`"
                @click="without('widths', n)"
                >×</NButton
              ></span
            >
            <EntryField
              number
              v-bind="inRow('widths', n, 'depth')"
              placeholder="any"
              :label="`Depth of width ${n + 1}`"
            />
            <EntryField number v-bind="inRow('widths', n, 'width')" :label="`Width ${n + 1} of the bottom`" />
          </p>
          <p v-if="!readonly" class="add">
            <NButton size="small" @click="addWidth">{{
              given.widths.length ? 'Add a width' : 'Own widths by depth'
            }}</NButton>
          </p>
        </template>
        <label class="line"
          ><span>Below the pipe {{ m }}</span
          ><EntryField number v-bind="field('bed')" placeholder="0" label="Dug below the pipe"
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
            v-bind="field('batter')"
            placeholder="1:0.5"
            title="1:0.5 is 1 up to 0.5 along"
            label="Batter of the sides"
        /></label>
        <label v-if="given.sides === 'flared'" class="line"
          ><span>Upright for {{ m }}</span
          ><EntryField number v-bind="field('upright')" label="Upright part of the sides"
        /></label>
        <p v-if="given.sides === 'benched'" class="line two">
          <span>Benches high, wide</span>
          <EntryField number v-bind="field('step_height')" label="Height between benches" />
          <EntryField number v-bind="field('step_width')" label="Width of benches" />
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
            <EntryField class="named" v-bind="inRow('layers', n, 'name')" :label="`Name of layer ${n + 1}`" />
            <NButton v-if="!readonly" text :aria-label="`Delete layer ${n + 1}`" @click="without('layers', n)"
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
              @choose="changeRow('layers', n, { mark: $event })"
            />
            <EntryField
              number
              v-bind="inRow('layers', n, 'over')"
              placeholder="0"
              :label="`Layer ${n + 1} over its mark`"
            />
          </p>
          <p class="line two">
            <span>t/m³, and more %</span>
            <EntryField
              number
              v-bind="inRow('layers', n, 'density')"
              placeholder="none"
              :label="`Density of layer ${n + 1}`"
            />
            <EntryField
              number
              v-bind="inRow('layers', n, 'extra')"
              placeholder="0"
              title="For compaction and loss"
              :label="`Allowance of layer ${n + 1}`"
            />
          </p>
        </section>
        <p v-if="!readonly" class="add">
          <NButton size="small" @click="addLayer">Add a layer</NButton
          ><span class="quiet">the rest is backfill</span>
        </p>
        <h3>Put back at the top, from above</h3>
        <section v-for="(_, n) in given.restored" :key="n" class="part">
          <p class="line">
            <EntryField
              class="named"
              v-bind="inRow('restored', n, 'name')"
              :label="`Name of course ${n + 1}`"
            />
            <NButton
              v-if="!readonly"
              text
              :aria-label="`Delete course ${n + 1}`"
              @click="without('restored', n)"
              >×</NButton
            >
          </p>
          <p class="line two">
            <span>Thick, and beyond {{ m }}</span>
            <EntryField
              number
              v-bind="inRow('restored', n, 'thickness')"
              :label="`Thickness of course ${n + 1}`"
            />
            <EntryField
              number
              v-bind="inRow('restored', n, 'overlap')"
              placeholder="0"
              title="Beyond each side of the trench"
              :label="`Course ${n + 1} beyond the sides`"
            />
          </p>
          <p class="line two">
            <span>t/m³, and more %</span>
            <EntryField
              number
              v-bind="inRow('restored', n, 'density')"
              placeholder="none"
              :label="`Density of course ${n + 1}`"
            />
            <EntryField
              number
              v-bind="inRow('restored', n, 'extra')"
              placeholder="0"
              :label="`Allowance of course ${n + 1}`"
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
        <p v-if="drawn?.says" class="desk-says">{{ drawn.says }}</p>
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
</style>
