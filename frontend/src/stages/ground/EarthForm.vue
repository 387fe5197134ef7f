<script setup lang="ts">
// What an earthwork asks: ground, formations, classes of what is dug, stages, what becomes of it.
import { NButton, NCheckbox } from 'naive-ui'
import { computed } from 'vue'
import { useGround } from '../../api/ground'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { fieldsOf } from '../../desk/fields'
import { unitHere } from '../../desk/ways'
import { useWalkStore } from '../../desk/walk'
import type { Earth, PartKind, Work } from './earth'
import OutlineField from './OutlineField.vue'
import SoilFields from './SoilFields.vue'

const props = defineProps<{ work: Work; earth: Earth; readonly: boolean }>()
const emit = defineEmits<{ close: [] }>()
const walk = useWalkStore()
const { data: ground } = useGround()
const surfaces = computed(() => (ground.value?.surfaces ?? []).map((s) => ({ value: s.id, label: s.name })))
const orNone = computed(() => [{ value: 0, label: 'a level or a plane' }, ...surfaces.value])
const bottoms = computed(() => [{ value: 0, label: 'thickness' }, ...surfaces.value])
const TAKEN = [
  { value: 'stripped' as const, label: 'stripped first' },
  { value: 'dug' as const, label: 'dug as far as formation' },
  { value: 'below formation' as const, label: 'dug below formation' },
]
const isDrawing = (kind: PartKind, id: number) => props.earth.isDrawing(kind, id)
const draw = (kind: PartKind, id: number) => props.earth.draw(kind, id)
const BENCHES = [
  { key: 'cut', word: 'cut' },
  { key: 'fill', word: 'fill' },
] as const
const disabled = () => props.readonly
const ofFormation = (f: Work['formations'][number]) =>
  fieldsOf(
    () => f,
    (fields) => props.earth.changeFormation(f, fields),
    disabled,
  )
const ofClass = (c: Work['classes'][number]) =>
  fieldsOf(
    () => c,
    (fields) => props.earth.changeClass(c, fields as Partial<Pick<typeof c, 'name' | 'depth'>>),
    disabled,
  )
const ofStage = (stage: Work['stages'][number]) =>
  fieldsOf(
    () => stage,
    (fields) => props.earth.changeStage(stage, fields as Partial<Pick<typeof stage, 'name'>>),
    disabled,
  )
async function addClass() {
  const taken = props.work.classes.map((c) => c.name.toLowerCase())
  const name = ['Topsoil', 'Existing paving', 'Unsuitable'].find((n) => !taken.includes(n.toLowerCase()))
  await props.earth.addClass({ name: name ?? `Class ${taken.length + 1}`, depth: '0.15' })
}
</script>

<template>
  <div class="asks scroll">
    <p class="top">
      <b>{{ work.mark }} {{ work.description }}</b
      ><NButton text class="push" @click="emit('close')">Working ›</NButton>
    </p>
    <label class="line"
      ><span>Ground</span
      ><ChoiceField
        :value="work.ground"
        :options="surfaces"
        label="Surface that is the ground"
        placeholder="choose a surface"
        :disabled="readonly"
        @choose="earth.change({ ground: $event })"
    /></label>

    <h3>Brought to</h3>
    <section
      v-for="(f, n) in work.formations"
      :key="f.id"
      class="part"
      @focusin="walk.look(`formation:${f.id}`)"
    >
      <p class="line">
        <EntryField
          class="named"
          :value="f.name || `Formation ${n + 1}`"
          :label="`Name of formation ${n + 1}`"
          :disabled="readonly"
          @change="earth.changeFormation(f, { name: $event })"
        /><NButton
          v-if="!readonly"
          text
          :aria-label="`Delete formation ${n + 1}`"
          @click="earth.dropFormation(f.id)"
          >×</NButton
        >
      </p>
      <label class="line"
        ><span>as</span
        ><ChoiceField
          :value="f.surface ?? 0"
          :options="orNone"
          :label="`What formation ${n + 1} is`"
          :disabled="readonly"
          @choose="earth.changeFormation(f, { surface: $event || null })"
      /></label>
      <template v-if="!f.surface">
        <label class="line"
          ><span>Level {{ unitHere('m') }}</span
          ><EntryField number v-bind="ofFormation(f).field('level')" :label="`Level of formation ${n + 1}`"
        /></label>
        <p class="line two">
          <span>Rises east, north</span>
          <EntryField
            number
            v-bind="ofFormation(f).field('grade_east')"
            placeholder="0"
            :label="`Rise to the east of formation ${n + 1}`"
          />
          <EntryField
            number
            v-bind="ofFormation(f).field('grade_north')"
            placeholder="0"
            :label="`Rise to the north of formation ${n + 1}`"
          />
        </p>
      </template>
      <OutlineField
        :of="f.name || `formation ${n + 1}`"
        :outline="f.outline"
        :readonly="readonly"
        :drawing="isDrawing('formation', f.id)"
        none="the whole ground"
        levels
        @draw="draw('formation', f.id)"
        @change="earth.outline('formation', f.id, $event)"
      />
      <template v-if="f.outline.length && !f.surface">
        <p v-for="side in BENCHES" :key="side.key" class="line three">
          <span>Batter, {{ side.word }}</span>
          <EntryField
            number
            v-bind="ofFormation(f).field(`${side.key}_batter`)"
            placeholder="upright"
            :title="'1:2 is 1 up to 2 along'"
            :label="`Batter in ${side.word}, such as 1:2`"
          />
          <EntryField
            number
            v-bind="ofFormation(f).field(`${side.key}_bench_height`)"
            placeholder="each"
            :label="`Height between benches in ${side.word}`"
          />
          <EntryField
            number
            v-bind="ofFormation(f).field(`${side.key}_bench_width`)"
            placeholder="wide"
            :label="`Width of benches in ${side.word}`"
          />
        </p>
      </template>
    </section>
    <p v-if="!readonly" class="add">
      <NButton
        size="small"
        :type="isDrawing('formation', 0) ? 'primary' : 'default'"
        @click="draw('formation', 0)"
        >Draw a platform</NButton
      >
      <NButton size="small" @click="earth.addFormation({})">Add one by figures</NButton>
    </p>

    <h3>What is dug</h3>
    <section v-for="c in work.classes" :key="c.id" class="part">
      <p class="line">
        <EntryField
          class="named"
          v-bind="ofClass(c).field('name')"
          :label="`Name of class ${c.name}`"
        /><NButton v-if="!readonly" text :aria-label="`Delete class ${c.name}`" @click="earth.dropClass(c.id)"
          >×</NButton
        >
      </p>
      <label class="line"
        ><span>is</span
        ><ChoiceField
          :value="c.taken as 'dug'"
          :options="TAKEN"
          :label="`How ${c.name} is taken`"
          :disabled="readonly"
          @choose="earth.changeClass(c, { taken: $event })"
      /></label>
      <p class="line two">
        <span>down by</span>
        <ChoiceField
          :value="c.surface ?? 0"
          :options="bottoms"
          :label="`Bottom of ${c.name}`"
          :disabled="readonly"
          @choose="earth.changeClass(c, { surface: $event || null })"
        />
        <EntryField
          v-if="!c.surface"
          number
          v-bind="ofClass(c).field('depth')"
          :label="`Thickness of ${c.name}`"
        />
      </p>
      <OutlineField
        :of="c.name"
        :outline="c.outline"
        :readonly="readonly"
        :drawing="isDrawing('class', c.id)"
        none="everywhere"
        @draw="draw('class', c.id)"
        @change="earth.outline('class', c.id, $event)"
      />
      <NCheckbox
        size="small"
        :checked="c.reused"
        :disabled="readonly"
        @update:checked="earth.changeClass(c, { reused: $event })"
        >goes into the fill</NCheckbox
      >
    </section>
    <p v-if="!readonly" class="add">
      <NButton size="small" @click="addClass">Add a class</NButton>
      <span class="quiet">the rest is ordinary digging</span>
    </p>

    <h3>Stages</h3>
    <section v-for="s in work.stages" :key="s.id" class="part">
      <p class="line">
        <EntryField
          class="named"
          v-bind="ofStage(s).field('name')"
          :label="`Name of stage ${s.name}`"
        /><NButton v-if="!readonly" text :aria-label="`Delete stage ${s.name}`" @click="earth.dropStage(s.id)"
          >×</NButton
        >
      </p>
      <OutlineField
        :of="s.name"
        :outline="s.outline"
        :readonly="readonly"
        :drawing="isDrawing('stage', s.id)"
        none=""
        @draw="draw('stage', s.id)"
        @change="earth.outline('stage', s.id, $event)"
      />
    </section>
    <p v-if="!readonly" class="add">
      <NButton size="small" :type="isDrawing('stage', 0) ? 'primary' : 'default'" @click="draw('stage', 0)"
        >Draw a stage</NButton
      >
    </p>

    <h3>What becomes of it</h3>
    <SoilFields :of="work" :readonly="readonly" @change="earth.change" />
    <label class="line"
      ><span>Between sections</span
      ><ChoiceField
        :value="work.rule as 'mean area'"
        :options="[
          { value: 'mean area', label: 'mean areas' },
          { value: 'prismoidal', label: 'prismoidal rule' },
          { value: 'frustum', label: 'frusta' },
        ]"
        label="Rule for volumes between sections"
        :disabled="readonly"
        @choose="earth.change({ rule: $event as 'mean area' })"
    /></label>
    <p v-if="!readonly" class="add"><NButton text @click="earth.remove()">Delete this earthwork</NButton></p>
  </div>
</template>

<style scoped>
.asks {
  height: 100%;
  padding: 9px 14px 24px;
}
.top {
  display: flex;
  gap: 8px;
  margin: 0 18px 6px 0;
}
.push {
  margin-left: auto;
}
</style>
