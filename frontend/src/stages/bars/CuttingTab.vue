<script setup lang="ts">
// Cutting: which bars, from what stock, which pieces kept from before first; the plans, and what is to be bought.
import { NButton, NInput, NProgress, NSelect } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useCuttings } from '../../api/bars'
import { ask, client, type Schemas } from '../../api/client'
import { useProject, useSave } from '../../api/project'
import { useQueryClient } from '@tanstack/vue-query'
import { keys } from '../../api/keys'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { useNotices } from '../../desk/notices'
import { unitHere } from '../../desk/ways'
import { useWalkStore } from '../../desk/walk'
import CutPlan from './CutPlan.vue'

const props = defineProps<{ schedule: Schemas['ScheduleView'] }>()
const route = useRoute()
const walk = useWalkStore()
const notices = useNotices()
const queries = useQueryClient()
const { save, projectId } = useSave()
const { data: project } = useProject()
const { data: cuttings } = useCuttings()
const readonly = computed(() => project.value?.role === 'viewer')
const picked = ref<number | null>(null)
const cutting = computed(
  () => cuttings.value?.find((each) => each.id === picked.value) ?? cuttings.value?.[0] ?? null,
)
const at = computed(() => ({ path: { project_id: projectId.value, cutting: cutting.value?.id ?? 0 } }))
watch(
  () => route.query.at,
  (now) => {
    const [kind, id] = String(now ?? '').split(':')
    if (kind === 'to-buy') picked.value = Number(id)
  },
  { immediate: true },
)
const chosenSize = computed(() => {
  const [kind, id, size] = walk.focus.split(':')
  return kind === 'to-buy' && Number(id) === cutting.value?.id ? size : ''
})
watch(
  () => cutting.value?.plans[0] && `to-buy:${cutting.value.id}:${cutting.value.plans[0].size}`,
  (first) => first && !walk.focus.startsWith('to-buy:') && walk.offer(first),
  { immediate: true },
)

async function add() {
  const taken = cuttings.value?.length ?? 0
  const name = taken ? `Cutting ${taken + 1}` : 'All bars'
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/cuttings', {
        params: { path: { project_id: projectId.value } },
        body: { name },
      }),
    ),
  )
  if (saved?.id) picked.value = saved.id
}
const change = (fields: { name?: string; stock?: string; blade?: string; members?: number[] }) =>
  cutting.value &&
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/cuttings/{cutting}', {
        params: at.value,
        body: { version: version ?? cutting.value!.version, ...fields },
      }),
    ),
  )
async function remove() {
  await save(() => ask(client.DELETE('/api/projects/{project_id}/cuttings/{cutting}', { params: at.value })))
  picked.value = null
}
async function act(call: Promise<unknown>) {
  try {
    await call
    await queries.invalidateQueries({ queryKey: keys.cuttings(projectId.value) })
  } catch (error) {
    notices.show(error)
  }
}
const stop = () =>
  act(ask(client.POST('/api/projects/{project_id}/cuttings/{cutting}/stop', { params: at.value })))
const again = () =>
  act(ask(client.POST('/api/projects/{project_id}/cuttings/{cutting}/again', { params: at.value })))
// A plan handed in moves what is shown of numbers elsewhere: the working column reads them again.
watch(
  () => cutting.value?.state,
  (now, was) => {
    if (was === 'working' && now === 'fresh')
      void queries.invalidateQueries({ queryKey: keys.walks(projectId.value) })
  },
)

const piece = ref({ size: '', length: '', number: '1' })
async function keep() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/cuttings/{cutting}/offcuts', {
        params: at.value,
        body: piece.value,
      }),
    ),
  )
  if (saved) piece.value = { size: '', length: '', number: '1' }
}
const offcutAt = (offcut: number) => ({ params: { path: { project_id: projectId.value, offcut } } })
const changePiece = (
  p: Schemas['OffCutView'],
  fields: Partial<Record<'size' | 'length' | 'number', string>>,
) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/offcuts/{offcut}', {
        ...offcutAt(p.id),
        body: { version: version ?? p.version, ...fields },
      }),
    ),
  )
const dropPiece = (p: Schemas['OffCutView']) =>
  save(() => ask(client.DELETE('/api/projects/{project_id}/offcuts/{offcut}', offcutAt(p.id))))
const others = computed(() => (cuttings.value ?? []).filter((each) => each.id !== cutting.value?.id))
const keepFor = (into: number) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/cuttings/{cutting}/keep', { params: at.value, body: { into } }),
    ),
  )
const members = computed(() =>
  props.schedule.members.map((m) => ({ value: m.id, label: `${m.mark} ${m.description}` })),
)
</script>

<template>
  <div v-if="!cutting" class="empty">
    <h2>Nothing is cut yet</h2>
    <p>
      A cutting says how the bars of the schedule come out of the lengths the merchant sells, and how many of
      these to buy.
    </p>
    <NButton v-if="!readonly" type="primary" @click="add">Cut all bars</NButton>
  </div>
  <template v-else>
    <div class="tools">
      <ChoiceField
        class="which"
        :value="cutting.id"
        :options="(cuttings ?? []).map((c) => ({ value: c.id, label: c.name }))"
        label="Cutting"
        @choose="picked = $event"
      />
      <NButton v-if="!readonly" size="small" @click="add">Another cutting</NButton>
      <span class="push"></span>
      <span v-if="cutting.state === 'working'" class="working" role="status">
        <NProgress
          type="line"
          class="done"
          :percentage="Math.round(cutting.done * 100)"
          :show-indicator="false"
          :height="4"
        />
        being cut
        <NButton text type="primary" @click="stop">stop</NButton>
      </span>
      <span v-else-if="cutting.state === 'stopped'" class="old" role="status">
        Stopped: the plans are of the schedule as it was.
        <NButton v-if="!readonly" text type="primary" @click="again">Cut again</NButton>
      </span>
      <NButton v-if="!readonly" text @click="remove">Delete</NButton>
    </div>
    <div class="asks">
      <label
        >Name
        <EntryField
          :value="cutting.name"
          label="Name of the cutting"
          :disabled="readonly"
          @change="change({ name: $event })"
      /></label>
      <label class="members"
        >Members
        <NSelect
          :value="cutting.members"
          :options="members"
          :disabled="readonly"
          :input-props="{ 'aria-label': 'Members that are cut' }"
          :max-tag-count="3"
          multiple
          filterable
          size="small"
          placeholder="all of them"
          @update:value="change({ members: $event as number[] })"
      /></label>
      <label
        >Stock lengths {{ unitHere('m') }}
        <EntryField
          :value="cutting.stock"
          label="Stock lengths"
          :placeholder="`${cutting.stock_now}, by the rules`"
          :disabled="readonly"
          @change="change({ stock: $event })"
      /></label>
      <label class="blade"
        >A cut takes {{ unitHere('mm') }}
        <EntryField
          number
          :value="cutting.blade"
          label="What a cut takes"
          placeholder="0"
          :disabled="readonly"
          @change="change({ blade: $event })"
      /></label>
    </div>
    <div class="desk-part scroll" tabindex="0">
      <p v-if="cutting.says" class="bad" role="alert">{{ cutting.says }}</p>
      <CutPlan
        v-for="plan in cutting.plans"
        :key="plan.size"
        :plan="plan"
        :chosen="plan.size === chosenSize"
        @look="walk.look(`to-buy:${cutting.id}:${plan.size}`)"
      />
      <section class="pieces">
        <h3>Pieces kept from before, cut first</h3>
        <p v-if="!cutting.offcuts.length" class="quiet">None.</p>
        <div v-for="p in cutting.offcuts" :key="p.id" class="piece">
          <EntryField
            :value="p.number"
            number
            label="Number of pieces"
            :disabled="readonly"
            @change="changePiece(p, { number: $event })"
          />
          <span>×</span>
          <EntryField
            :value="p.length"
            number
            label="Length of the pieces"
            :disabled="readonly"
            @change="changePiece(p, { length: $event })"
          />
          <span class="quiet">{{ unitHere('m') }} of size</span>
          <EntryField
            :value="p.size"
            label="Size of the pieces"
            :disabled="readonly"
            @change="changePiece(p, { size: $event })"
          />
          <NButton v-if="!readonly" text aria-label="Take these pieces out" @click="dropPiece(p)">×</NButton>
        </div>
        <form v-if="!readonly" class="piece" @submit.prevent="keep">
          <NInput
            v-model:value="piece.number"
            size="small"
            :input-props="{ 'aria-label': 'How many pieces' }"
          />
          <span>×</span>
          <NInput
            v-model:value="piece.length"
            size="small"
            placeholder="3.20"
            :input-props="{ 'aria-label': 'Their length' }"
          />
          <span class="quiet">{{ unitHere('m') }} of size</span>
          <NInput
            v-model:value="piece.size"
            size="small"
            placeholder="16"
            :input-props="{ 'aria-label': 'Their size' }"
          />
          <NButton size="small" attr-type="submit">Keep</NButton>
        </form>
        <p v-if="others.length && !readonly" class="onward">
          <span class="quiet">What this one leaves over goes to</span>
          <ChoiceField
            :value="null"
            :options="others.map((c) => ({ value: c.id, label: c.name }))"
            label="Keep the off-cuts for"
            placeholder="another cutting…"
            @choose="keepFor"
          />
        </p>
      </section>
    </div>
  </template>
</template>

<style scoped>
.tools,
.asks {
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
}
.asks {
  align-items: flex-end;
}
.asks label {
  flex: 1 1 110px;
  min-width: 0;
  color: var(--quiet);
  font-size: 12px;
}
.asks .members {
  flex-grow: 2;
}
.asks .blade {
  flex: 0 0 96px;
}
.which {
  width: 170px;
}
.push {
  flex: 1;
}
.working {
  display: flex;
  align-items: center;
  gap: 8px;
}
.done {
  width: 90px;
}
.old {
  color: var(--accent-ink);
}
.desk-part {
  flex: 1;
}
.pieces {
  padding: 10px 15px 24px;
}
.pieces h3 {
  color: var(--quiet);
}
.piece {
  display: grid;
  grid-template-columns: 64px 12px 84px auto 64px 60px;
  align-items: center;
  justify-content: start;
  gap: 8px;
  padding: 3px 0;
}
.onward {
  display: flex;
  align-items: center;
  gap: 8px;
}
.onward .choice {
  width: 190px;
}
</style>
