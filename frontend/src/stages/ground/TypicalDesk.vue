<script setup lang="ts">
// A typical section in a form that draws itself: strips outwards from the centreline, layers under them, sides.
import { NButton, NCheckbox } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useTypical } from '../../api/ground'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import EntryField from '../../desk/EntryField.vue'
import { fieldsOf } from '../../desk/fields'
import { useWalkStore } from '../../desk/walk'
import { unitHere } from '../../desk/ways'
import RouteDrawing from './RouteDrawing.vue'
import ShelvedHead from './ShelvedHead.vue'
import { typicalOf, type TypicalDocument } from './typicals'
import { hatchOf } from './routes'
import { areaShown } from './units'

const props = defineProps<{ typical: number; readonly: boolean }>()
const emit = defineEmits<{ made: [id: number] }>()
const walk = useWalkStore()
const { save, projectId } = useSave()
const { data: typical } = useTypical(() => props.typical)
const given = computed(() => (typical.value ? typicalOf(typical.value) : null))
const drawn = ref<Schemas['TypicalDrawn'] | null>(null)
const of = computed(() => ({ params: { path: { project_id: projectId.value, typical: props.typical } } }))
const ofProject = computed(() => ({ params: { path: { project_id: projectId.value } } }))
watch(
  () => typical.value?.id,
  () => typical.value && walk.offer(`typical:${typical.value.id}`),
  { immediate: true },
)
watch(
  given,
  async (document) => {
    if (!document) return
    drawn.value = await ask(
      client.POST('/api/projects/{project_id}/typicals/drawn', {
        ...ofProject.value,
        body: { document: { ...document } },
      }),
    )
  },
  { immediate: true },
)
const change = (fields: Partial<TypicalDocument>) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/typicals/{typical}', {
        ...of.value,
        body: { version: version ?? typical.value!.version, document: { ...fields } },
      }),
    ),
  )
type Side = 'left' | 'right'
const sides = computed<Side[]>(() => (given.value?.alike ? ['right'] : ['left', 'right']))
const { field, inRow, changeRow, without } = fieldsOf(
  () => given.value!,
  change,
  () => props.readonly,
)
/** Whether a strip of that name is left once a side has these strips. */
const stays = (side: Side, strips: { name: string }[], name: string) => {
  const other = given.value!.alike ? [] : given.value![side === 'left' ? 'right' : 'left']
  return [...strips, ...other].some((s) => s.name === name)
}
/** Layers follow a strip that is renamed, and stay under one of the other side that has its name still. */
const rename = (side: Side, n: number, name: string) => {
  const was = given.value![side][n].name
  const strips = given.value![side].map((each, at) => (at === n ? { ...each, name } : each))
  if (!name) return change({ [side]: strips })
  const now = stays(side, strips, was) ? [was, name] : [name]
  const layers = given.value!.layers.map((l) => ({
    ...l,
    under: [...new Set(l.under.flatMap((u) => (u === was ? now : [u])))],
  }))
  return change({ [side]: strips, layers })
}
const addStrip = (side: Side) => {
  const there = given.value![side].map((s) => s.name)
  let n = there.length + 1
  while (there.includes(`Strip ${n}`)) n += 1
  return change({
    [side]: [...given.value![side], { name: `Strip ${n}`, width: '1 m', fall: '', step: '', linear: false }],
  })
}
const dropStrip = (side: Side, n: number) => {
  const { name } = given.value![side][n]
  const strips = given.value![side].filter((_, at) => at !== n)
  const layers = stays(side, strips, name)
    ? given.value!.layers
    : given.value!.layers.map((l) => ({ ...l, under: l.under.filter((u) => u !== name) }))
  return change({ [side]: strips, layers })
}
const setAlike = (alike: boolean) => change(alike ? { alike } : { alike, left: given.value!.right })
const addLayer = () => {
  const { layers } = given.value!
  const under = layers.at(-1)?.under ?? [given.value!.right[0]?.name ?? '']
  let n = layers.length + 1
  while (layers.some((l) => l.name === `Layer ${n}`)) n += 1
  return change({
    layers: [
      ...layers,
      { name: `Layer ${n}`, thickness: '150 mm', under: under.filter(Boolean), spread: '' },
    ],
  })
}
const moveLayer = (n: number, by: number) => {
  const layers = [...given.value!.layers]
  layers.splice(n + by, 0, ...layers.splice(n, 1))
  return change({ layers })
}
const stripNames = computed(() => [
  ...new Set(
    (given.value ? [...given.value.right, ...(given.value.alike ? [] : given.value.left)] : []).map(
      (s) => s.name,
    ),
  ),
])
const toggleUnder = (n: number, name: string, on: boolean) => {
  const under = given.value!.layers[n].under.filter((u) => u !== name)
  return changeRow('layers', n, { under: on ? [...under, name] : under })
}
const remove = () => save(() => ask(client.DELETE('/api/projects/{project_id}/typicals/{typical}', of.value)))
async function copy() {
  const document = { ...given.value!, name: `${given.value!.name}, copy`.slice(0, 60) }
  const saved = await save(() =>
    ask(client.POST('/api/projects/{project_id}/typicals', { ...ofProject.value, body: { document } })),
  )
  if (saved?.id) emit('made', saved.id)
}
const put = (shelf: number) =>
  save(() =>
    ask(client.POST('/api/projects/{project_id}/typicals/{typical}/shelf', { ...of.value, body: { shelf } })),
  )
const built = computed(() => {
  const number = typical.value?.used
  if (!number) return 'no route is built like it yet'
  return number === 1 ? '1 route is built like it' : `${number} routes are built like it`
})
const m = unitHere('m')
const layers = computed(() => given.value?.layers.map((l) => l.name) ?? [])
</script>

<template>
  <template v-if="typical && given">
    <ShelvedHead
      it="the typical section"
      :name="field('name')"
      :built="built"
      :number="typical.shelf_number"
      :readonly="readonly"
      @put="put"
      @copy="copy"
      @remove="remove"
    />
    <div class="both">
      <div class="picture">
        <p v-if="drawn?.says" class="desk-says">{{ drawn.says }}</p>
        <template v-else-if="drawn">
          <RouteDrawing
            class="drawing"
            :shapes="drawn.shapes"
            :finished="drawn.finished"
            :formation="drawn.formation"
            :layers="layers"
            :label="given.name"
          />
          <p class="legend">
            <span v-for="s in drawn.shapes" :key="s.name">
              <svg width="16" height="12" aria-hidden="true">
                <rect
                  width="16"
                  height="12"
                  :fill="hatchOf(s.name, layers)"
                  stroke="#8b7e63"
                  stroke-width="0.6"
                />
              </svg>
              {{ s.name }} <span class="num quiet">{{ areaShown(s.area) }}</span>
            </span>
            <span class="quiet">{{ unitHere('m²') }} across</span>
          </p>
        </template>
      </div>
      <div class="asks scroll">
        <div>
          <NCheckbox size="small" :checked="given.alike" :disabled="readonly" @update:checked="setAlike"
            >left like right</NCheckbox
          >
          <template v-for="side in sides" :key="side">
            <h3>
              {{ given.alike ? 'Strips, outwards from the centreline' : `Strips on the ${side}, outwards` }}
            </h3>
            <p class="heads quiet">
              <span>name</span><span>wide {{ m }}</span
              ><span>falls</span><span>step {{ m }}</span
              ><span title="Counted by its length, as a kerb is">length</span>
            </p>
            <p v-for="(strip, n) in given[side]" :key="n" class="strip">
              <EntryField
                :value="strip.name"
                :disabled="readonly"
                :label="`Name of strip ${n + 1}, ${side}`"
                @change="rename(side, n, $event)"
              />
              <EntryField
                number
                v-bind="inRow(side, n, 'width')"
                :label="`Width of strip ${n + 1}, ${side}`"
              />
              <EntryField
                number
                v-bind="inRow(side, n, 'fall')"
                placeholder="0"
                title="2.5 % or 1:40, outwards"
                :label="`Fall of strip ${n + 1}, ${side}`"
              />
              <EntryField
                number
                v-bind="inRow(side, n, 'step')"
                placeholder="0"
                title="How much it stands above what is inside of it"
                :label="`Step of strip ${n + 1}, ${side}`"
              />
              <NCheckbox
                size="small"
                :checked="strip.linear"
                :disabled="readonly"
                :aria-label="`Strip ${n + 1}, ${side}, counted by its length`"
                @update:checked="changeRow(side, n, { linear: $event })"
              />
              <NButton
                v-if="!readonly"
                text
                :aria-label="`Delete strip ${n + 1}, ${side}`"
                @click="dropStrip(side, n)"
                >×</NButton
              >
            </p>
            <p v-if="!readonly" class="add">
              <NButton size="small" :aria-label="`Add a strip, ${side}`" @click="addStrip(side)"
                >Add a strip</NButton
              >
            </p>
          </template>
          <h3>Sides</h3>
          <p class="line two">
            <span>Batter in cut, in fill</span>
            <EntryField
              number
              v-bind="field('cut')"
              title="1:1.5 is 1 up to 1.5 along"
              label="Batter in cut"
            />
            <EntryField
              number
              v-bind="field('fill')"
              title="1:1.5 is 1 up to 1.5 along"
              label="Batter in fill"
            />
          </p>
          <p class="line two">
            <span>Ditch in cut: deep, wide {{ m }}</span>
            <EntryField number v-bind="field('ditch_depth')" placeholder="none" label="Depth of the ditch" />
            <EntryField number v-bind="field('ditch_bottom')" placeholder="0" label="Bottom of the ditch" />
          </p>
          <p v-if="given.ditch_depth" class="line two">
            <span>its sides, inner, outer</span>
            <EntryField number v-bind="field('ditch_inner')" label="Inner side of the ditch" />
            <EntryField number v-bind="field('ditch_outer')" label="Outer side of the ditch" />
          </p>
          <label class="line"
            ><span>Topsoil stripped {{ m }}</span
            ><EntryField number v-bind="field('topsoil')" placeholder="0" label="Topsoil stripped"
          /></label>
        </div>
        <div>
          <h3>Layers, from the top down</h3>
          <section v-for="(layer, n) in given.layers" :key="n" class="layer">
            <p class="line">
              <svg width="16" height="14" aria-hidden="true">
                <rect
                  width="16"
                  height="14"
                  :fill="hatchOf(layer.name, layers)"
                  stroke="#8b7e63"
                  stroke-width="0.6"
                />
              </svg>
              <EntryField
                class="named"
                v-bind="inRow('layers', n, 'name')"
                :label="`Name of layer ${n + 1}`"
              />
              <EntryField
                number
                class="thick"
                v-bind="inRow('layers', n, 'thickness')"
                :title="`Thickness in ${m}`"
                :label="`Thickness of layer ${n + 1}`"
              />
              <span class="quiet">{{ m }}</span>
              <template v-if="!readonly">
                <NButton text :disabled="n === 0" :aria-label="`Layer ${n + 1} up`" @click="moveLayer(n, -1)"
                  >↑</NButton
                >
                <NButton text :aria-label="`Delete layer ${n + 1}`" @click="without('layers', n)">×</NButton>
              </template>
            </p>
            <p class="line under">
              <span class="quiet">under</span>
              <NCheckbox
                v-for="name in stripNames"
                :key="name"
                size="small"
                :checked="layer.under.includes(name)"
                :disabled="readonly"
                @update:checked="toggleUnder(n, name, $event)"
                >{{ name }}</NCheckbox
              >
              <span class="quiet beyond">and beyond {{ m }}</span>
              <EntryField
                number
                class="spread"
                v-bind="inRow('layers', n, 'spread')"
                placeholder="0"
                title="How far it goes beyond the outer edge"
                :label="`Layer ${n + 1} beyond the edge`"
              />
            </p>
          </section>
          <p v-if="!readonly" class="add"><NButton size="small" @click="addLayer">Add a layer</NButton></p>
        </div>
      </div>
    </div>
  </template>
</template>

<style scoped>
.both {
  display: flex;
  flex: 1;
  flex-direction: column;
  min-height: 0;
}
.asks {
  --asked: 150px;
  display: grid;
  flex: 1 1 60%;
  grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr);
  gap: 0 22px;
  align-content: start;
  padding: 8px 14px 24px;
  border-top: 1px solid var(--ink);
}
@media (max-width: 1200px) {
  .asks {
    grid-template-columns: minmax(0, 1fr);
  }
}
.heads,
.strip {
  display: grid;
  grid-template-columns: minmax(80px, 1fr) 60px 62px 56px 34px 14px;
  align-items: center;
  gap: 4px;
  margin: 0 0 3px;
}
.heads {
  font-size: 12px;
}
.layer {
  padding-bottom: 6px;
}
.layer .line {
  display: flex;
  align-items: center;
  gap: 6px;
  margin: 0 0 2px;
}
.layer .named {
  flex: 1;
}
.layer .thick {
  width: 80px;
}
.layer .under {
  flex-wrap: wrap;
  gap: 0 8px;
}
.layer .spread {
  width: 66px;
}
.beyond {
  margin-left: auto;
}
.picture {
  display: flex;
  flex: 1 1 40%;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
.legend {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 0;
  padding: 6px 12px;
  border-top: 1px solid var(--rule);
}
</style>
