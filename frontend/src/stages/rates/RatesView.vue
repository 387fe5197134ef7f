<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { NButton } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useAllowances, useBuildUp, useBuildUps, useElement } from '../../api/project'
import LedgerTable from '../../desk/LedgerTable.vue'
import ListPane from '../../desk/ListPane.vue'
import Stage from '../../desk/Stage.vue'
import { quantity, rateShown } from '../../desk/numbers'
import { useTally } from '../../desk/tally'
import { useWalkStore } from '../../desk/walk'
import AllowanceDesk from './AllowanceDesk.vue'
import BandDesk from './BandDesk.vue'
import NewAllowance from './NewAllowance.vue'
import NewRate from './NewRate.vue'
import RateHead from './RateHead.vue'
import RateParts from './RateParts.vue'
import ReferenceDesk from './ReferenceDesk.vue'
import TakenNumbers from './TakenNumbers.vue'
import TakeRate from './TakeRate.vue'
import { useRateLines } from './lines'

const route = useRoute()
const router = useRouter()
const walk = useWalkStore()
const tally = useTally()
const { data: list } = useBuildUps()
const { data: allowances } = useAllowances()
const allowance = computed(() => (route.params.allowance ? Number(route.params.allowance) : null))
const { data: element } = useElement(allowance)
const chosen = computed(() => {
  if (allowance.value !== null) return null
  return route.params.buildUp ? Number(route.params.buildUp) : (list.value?.[0]?.id ?? null)
})
const { data: rate } = useBuildUp(chosen)
const { columns, rows, bound, line, readonly, save, projectId, project } = useRateLines(rate)
const making = ref<'rate' | 'gang' | 'reference' | 'banded' | 'allowance' | 'taken' | null>(null)
const home = computed(() => `/projects/${projectId.value}/rates`)
/** References and banded rates come to nothing by themselves. */
const isRate = (each: { kind: string }) => each.kind === 'rate' || each.kind === 'gang'
const BY_SIZE: Record<string, string> = { reference: 'by size', banded: 'by band' }
watch(
  rate,
  (now) =>
    (tally.selected =
      now && isRate(now)
        ? [{ label: 'Rate', value: rateShown(now.rate), unit: `${project.value?.currency} per ${now.unit}` }]
        : []),
  { immediate: true },
)
watch(chosen, (id) => id !== null && walk.offer(`build-up:${id}`), { immediate: true })

const groups = computed(() => {
  const headings = [...new Set((list.value ?? []).map((b) => b.heading))]
  return headings.map((heading) => ({
    key: heading,
    title: heading || 'Rates',
    entries: (list.value ?? [])
      .filter((b) => b.heading === heading)
      .map((b) => ({
        id: b.id,
        name: b.name,
        value: BY_SIZE[b.kind] ?? rateShown(b.rate),
        unit: `/${b.unit}`,
        to: `${home.value}/${b.id}`,
        warn: isRate(b) && !Number(b.rate),
      })),
  }))
})
const listed = computed(() => [
  ...groups.value,
  ...(allowances.value?.length
    ? [
        {
          key: 'allowances',
          title: 'Allowances',
          entries: allowances.value.map((each) => ({
            id: `allowance-${each.id}`,
            mark: each.mark,
            name: each.made_by,
            value: each.value === null ? '' : quantity(each.value, each.unit),
            unit: each.unit,
            to: `${home.value}/allowance/${each.id}`,
            warn: each.findings > 0,
          })),
        },
      ]
    : []),
])
watch(
  () => element.value?.id,
  () => element.value && walk.offer(`quantity:${element.value.id}:${element.value.quantities[0]?.output}`),
  { immediate: true },
)
const at = (build_up: number) => ({ params: { path: { project_id: projectId.value, build_up } } })
const change = (body: Omit<Schemas['BuildUpChange'], 'version'>) => {
  const now = rate.value
  if (!now) return
  return save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/build-ups/{build_up}', {
        ...at(now.id),
        body: { version: version ?? now.version, ...body },
      }),
    ),
  )
}
/** What was made just now: its table is gone on to. */
const begun = ref(0)
function made(id: number) {
  begun.value = id
  making.value = null
  return router.push(`${home.value}/${id}`)
}
function allowed(id: number) {
  making.value = null
  return router.push(`${home.value}/allowance/${id}`)
}
async function copy() {
  const now = rate.value
  if (!now) return
  const saved = await save(() =>
    ask(client.POST('/api/projects/{project_id}/build-ups/{build_up}/copy', at(now.id))),
  )
  if (saved?.id) await made(saved.id)
}
const queries = useQueryClient()
async function shelve(shelf: number) {
  await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/build-ups/{build_up}/shelf', {
        ...at(rate.value!.id),
        body: { shelf },
      }),
    ),
  )
  await queries.invalidateQueries({ queryKey: ['shelves'] })
}
async function remove() {
  const now = rate.value
  if (!now) return
  if (await save(() => ask(client.DELETE('/api/projects/{project_id}/build-ups/{build_up}', at(now.id)))))
    await router.push(home.value)
}
</script>

<template>
  <Stage label="Rates">
    <template #list>
      <ListPane
        find="Find a rate"
        :groups="listed"
        :waits="!list || !allowances"
        :chosen="allowance === null ? chosen : `allowance-${allowance}`"
      >
        <p v-if="!readonly" class="new">
          <NButton size="small" @click="making = 'rate'">New rate</NButton>
          <NButton size="small" @click="making = 'gang'">New gang</NButton>
          <NButton size="small" @click="making = 'reference'">New reference</NButton>
          <NButton size="small" @click="making = 'banded'">New banded rate</NButton>
          <NButton size="small" @click="making = 'allowance'">New allowance</NButton>
          <NButton size="small" @click="making = 'taken'">Shelves, projects</NButton>
        </p>
      </ListPane>
    </template>
    <AllowanceDesk v-if="element && element.id === allowance" :key="element.id" :element="element" />
    <BandDesk
      v-else-if="rate?.kind === 'banded'"
      :key="rate.id"
      :rate="rate"
      @change="change"
      @copy="copy"
      @remove="remove"
    />
    <ReferenceDesk
      v-else-if="rate?.kind === 'reference'"
      :key="rate.id"
      :rate="rate"
      @change="change"
      @copy="copy"
      @remove="remove"
    />
    <template v-else-if="rate">
      <RateHead
        :key="rate.id"
        :rate="rate"
        :readonly="readonly"
        @change="change"
        @copy="copy"
        @remove="remove"
      />
      <RateParts :groups="rate.groups" :rate="rate.rate" />
      <p v-for="said in rate.findings" :key="said" class="found">{{ said }}</p>
      <LedgerTable
        :key="rate.id"
        :begin="begun === rate.id"
        :label="`Build-up of ${rate.name}`"
        :columns="columns"
        :rows="rows"
        v-bind="bound"
      />
      <TakenNumbers :rate="rate" :line="line" :readonly="readonly" />
    </template>
    <div v-else-if="list && !list.length" class="empty">
      <h2>No rates yet</h2>
      <p>
        A rate is built up from resources: labour and plant by output, materials per unit, and other rates
        such as a concrete mix.
      </p>
      <p v-if="!readonly"><NButton type="primary" @click="making = 'rate'">New rate</NButton></p>
    </div>
    <TakeRate
      v-if="making === 'taken'"
      :rate="rate ?? null"
      @close="making = null"
      @made="made"
      @shelve="shelve"
    />
    <NewAllowance v-else-if="making === 'allowance'" @close="making = null" @made="allowed" />
    <NewRate v-else-if="making" :kind="making" @close="making = null" @made="made" />
  </Stage>
</template>

<style scoped>
.new {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  padding: 4px 12px;
}
.found {
  margin: 0;
  padding: 4px 12px;
  color: var(--accent-ink);
}
</style>
