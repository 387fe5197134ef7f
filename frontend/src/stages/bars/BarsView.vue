<script setup lang="ts">
// Bars: the bending schedule, its summary, cutting from stock, and the rules that all of it follows.
import { NTab, NTabs } from 'naive-ui'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSchedule } from '../../api/bars'
import type { Schemas } from '../../api/client'
import { useLocations, useProjectId } from '../../api/project'
import JobButton from '../../desk/JobButton.vue'
import ListPane from '../../desk/ListPane.vue'
import Stage from '../../desk/Stage.vue'
import CuttingTab from './CuttingTab.vue'
import { massHere, tonnesHere } from './masses'
import RulesTab from './RulesTab.vue'
import ScheduleTab from './ScheduleTab.vue'
import SummaryTab from './SummaryTab.vue'

const route = useRoute()
const router = useRouter()
const projectId = useProjectId()
const { data: schedule } = useSchedule()
const { data: locations } = useLocations()
const PARTS = { schedule: 'Schedule', cutting: 'Cutting', summary: 'Summary', rules: 'Rules' }
// As close as words stand in a head.
const GAP = { '--n-tab-gap': '22px' }
const part = computed(() => String(route.params.part || 'schedule'))
const home = computed(() => `/projects/${projectId.value}/bars`)
const go = (name: string) => router.push(name === 'schedule' ? home.value : `${home.value}/${name}`)
// What is walked to stands in its own part.
watch(
  () => route.query.at,
  (at) => {
    const to = String(at ?? '').startsWith('to-buy:')
      ? 'cutting'
      : String(at ?? '').startsWith('bar:')
        ? 'schedule'
        : ''
    if (to && part.value !== to)
      void router.replace({
        path: to === 'schedule' ? home.value : `${home.value}/${to}`,
        query: route.query,
      })
  },
  { immediate: true },
)
const chosen = computed(() => Number(route.query.member) || null)
const wanted = ref('')
const AT_ONCE = 200 // members listed; more as one scrolls to them
const listed = ref(AT_ONCE)
watch(wanted, () => (listed.value = AT_ONCE))
const found = computed(() => {
  const words = wanted.value.trim().toLowerCase()
  const all = schedule.value?.members ?? []
  return words ? all.filter((m) => `${m.mark} ${m.description}`.toLowerCase().includes(words)) : all
})
const groups = computed(() => {
  const some = found.value.slice(0, listed.value)
  return (locations.value ?? [])
    .map((location) => ({
      key: location.id,
      title: location.name,
      entries: some.filter((m) => m.location === location.id).map(entryOf),
    }))
    .filter((group) => group.entries.length)
})
const entryOf = (m: Schemas['BarMember']) => ({
  id: m.id,
  mark: m.mark,
  name: m.description || (m.typed ? 'Typed bars' : ''),
  value: massHere(m.mass, 0).text,
  unit: massHere(0).unit,
  warn: m.findings > 0,
  to: `${home.value}?member=${m.id}`,
})
const most = computed(() => Math.max(1, ...(schedule.value?.sizes ?? []).map((s) => s.mass)))
const whole = computed(() => (schedule.value?.sizes ?? []).reduce((sum, s) => sum + s.mass, 0))
</script>

<template>
  <Stage label="Members">
    <template #list>
      <ListPane
        v-model:wanted="wanted"
        find="Find a member"
        :groups="groups"
        :waits="!schedule || !locations"
        :chosen="chosen"
        elsewhere
        @more="listed < found.length && (listed += AT_ONCE)"
      >
        <section v-if="schedule?.sizes.length" class="sizes" aria-label="By size">
          <h3>By size</h3>
          <p v-for="s in schedule.sizes" :key="s.size">
            <span>{{ s.grade }}{{ s.size }}</span>
            <span class="line"><span :style="{ width: `${(s.mass / most) * 100}%` }"></span></span>
            <span class="num"
              >{{ tonnesHere(s.mass).text }} <span class="quiet">{{ tonnesHere(0).unit }}</span></span
            >
          </p>
          <p class="whole">
            <b>Total</b><span></span>
            <b class="num"
              >{{ tonnesHere(whole).text }} <span class="quiet">{{ tonnesHere(0).unit }}</span></b
            >
          </p>
        </section>
      </ListPane>
    </template>
    <div class="head">
      <NTabs :value="part" type="line" size="small" class="parts" :style="GAP" @update:value="go">
        <NTab v-for="(words, name) in PARTS" :key="name" :name="name">{{ words }}</NTab>
      </NTabs>
      <span class="push"></span>
      <span class="quiet rules" :title="`Rules: ${schedule?.rules ?? ''}`">Rules: {{ schedule?.rules }}</span>
      <span v-if="schedule?.letter" class="quiet">rev {{ schedule.letter }}</span>
      <JobButton kind="bars_pdf" plain>PDF</JobButton>
      <JobButton kind="bars_xlsx" plain>XLSX</JobButton>
      <JobButton kind="bars_csv" plain>CSV</JobButton>
      <JobButton
        kind="bars_bvbs"
        plain
        title="Bars with arcs, such as rings and helices, have no place in it and are left out"
        >BVBS</JobButton
      >
    </div>
    <template v-if="schedule">
      <ScheduleTab v-if="part === 'schedule'" :schedule="schedule" :member="chosen" />
      <CuttingTab v-else-if="part === 'cutting'" :schedule="schedule" />
      <SummaryTab v-else-if="part === 'summary'" :schedule="schedule" />
      <RulesTab v-else />
    </template>
  </Stage>
</template>

<style scoped>
.head {
  display: flex;
  flex: none;
  align-items: center;
  gap: 10px;
  min-width: 0;
  height: 37px;
  padding: 0 12px;
  border-bottom: 1px solid var(--rule);
}
.parts {
  flex: none;
  width: 316px;
}
.push {
  flex: 1;
}
.rules {
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.sizes {
  padding: 4px 12px;
}
.sizes h3 {
  padding: 5px 0 4px;
  color: var(--quiet);
}
.sizes p {
  display: grid;
  grid-template-columns: 34px 1fr auto;
  align-items: center;
  gap: 8px;
  margin: 0;
  height: 26px;
}
.line span {
  display: block;
  height: 5px;
  background: #5b4a78;
}
.whole {
  border-top: 1px solid var(--ink);
}
</style>
