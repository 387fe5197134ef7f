<script setup lang="ts">
// Single documents of the project as it is now, and what was done to it.
import { NButton, NDataTable, type DataTableColumns } from 'naive-ui'
import { computed, defineAsyncComponent, h, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { useBill, useChecks, useHistory, useProject } from '../../api/project'
import JobButton from '../../desk/JobButton.vue'
import { money, signed } from '../../desk/numbers'

const MovedDialog = defineAsyncComponent(() => import('../../desk/MovedDialog.vue'))
const asked = ref(0)
const { data: project } = useProject()
const { data: bill } = useBill()
const { data: history, hasNextPage, fetchNextPage } = useHistory()
const { data: checks } = useChecks()
/** Of each item that wants something, the first check. */
const missing = computed(() => {
  const found = (checks.value ?? []).filter((check) => check.stage === 'bill')
  return found.filter((check, at) => found.findIndex((each) => each.ref === check.ref) === at)
})
const changes = computed(() => history.value?.pages.flat() ?? [])
type Change = Schemas['ChangeView']
const columns: DataTableColumns<Change> = [
  { title: 'When', key: 'at', width: 120, className: 'num', render: (c) => time(c.at) },
  { title: 'Who', key: 'person', width: 120, ellipsis: true },
  {
    title: 'What',
    key: 'label',
    render: (c) => `${c.label}${c.state === 'undone' ? ' (undone)' : ''}`,
  },
  {
    title: 'Moved the bill',
    key: 'moved',
    width: 150,
    align: 'right',
    className: 'num',
    render: (c) =>
      Number(c.moved)
        ? h(
            NButton,
            {
              text: true,
              disabled: c.state !== 'done' || project.value?.role === 'viewer',
              title: 'Which rates and items it moved',
              onClick: () => (asked.value = c.id),
            },
            () => signed(Number(c.moved)),
          )
        : '',
  },
]
const time = (at: string) =>
  new Date(`${at}Z`).toLocaleString('en-GB', {
    day: '2-digit',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  })
</script>

<template>
  <div class="desk-head"><b>Documents as the project stands</b></div>
  <div class="out">
    <p class="quiet told">
      Bill total <b class="num">{{ money(bill?.total) }} {{ project?.currency }}</b
      ><template v-if="!missing.length">. Every item has a quantity and a rate.</template>
    </p>
    <div v-if="missing.length" class="missing">
      <p class="warn">
        {{ missing.length }} item{{ missing.length > 1 ? 's' : '' }} that add{{
          missing.length > 1 ? '' : 's'
        }}
        nothing yet:
      </p>
      <p v-for="check in missing.slice(0, 8)" :key="check.ref">
        <RouterLink :to="`/projects/${project?.id}/bill?at=${check.ref}`">{{ check.says }}</RouterLink>
      </p>
    </div>
    <JobButton kind="bill_xlsx" primary>Bill as XLSX</JobButton>
    <p class="quiet">Live formulas: bill, dimension lines, build-ups and prices on linked sheets.</p>
    <JobButton kind="bill_pdf">Bill as PDF</JobButton>
    <p class="quiet">With the total of each page, their collection and the summary.</p>
    <JobButton kind="dimensions_pdf">Dimension sheets as PDF</JobButton>
    <p class="quiet">Every element’s lines squared, and where each was measured.</p>
    <NButton tag="a" :href="`/api/projects/${project?.id}/issue/project.json`" download
      >Whole project as one file</NButton
    >
    <p class="quiet">Drawings included. “Take in a project file” makes an equal project from it.</p>
  </div>
  <div class="desk-head"><b>What was done, and what it moved</b></div>
  <div class="scroll">
    <NDataTable
      v-if="history"
      size="small"
      :bordered="false"
      :columns="columns"
      :data="changes"
      :row-key="(change: Change) => change.id"
      :row-class-name="(change: Change) => (change.state === 'done' ? '' : 'gone')"
    />
    <MovedDialog v-if="asked" :change="asked" @close="asked = 0" />
    <p v-if="hasNextPage" class="earlier">
      <NButton text type="primary" @click="fetchNextPage()">Earlier changes</NButton>
    </p>
  </div>
</template>

<style scoped>
.out {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 6px 14px;
  align-items: center;
  padding: 8px 12px 12px;
}
.out p {
  margin: 0;
}
.told,
.missing {
  grid-column: 1 / -1;
}
.earlier {
  padding: 4px 12px;
}
.warn {
  color: var(--accent-ink);
}
:deep(.gone td) {
  color: var(--quiet);
}
</style>
