<script setup lang="ts">
// A reference: known costs by size, typed or pasted, drawn as lines, and read at a size.
import { useQuery } from '@tanstack/vue-query'
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { keys } from '../../api/keys'
import { useProject, useProjectId } from '../../api/project'
import EntryField from '../../desk/EntryField.vue'
import LedgerTable from '../../desk/LedgerTable.vue'
import Menu from '../../desk/Menu.vue'
import type { Column, Row } from '../../desk/ledger/ledger'
import { useLedgerStage } from '../../desk/ledger/stage'
import { shown, typeable } from '../../desk/numbers'
import ReferenceLines from './ReferenceLines.vue'
import SizedHead from './SizedHead.vue'
import SizesIn from './SizesIn.vue'

const props = defineProps<{ rate: Schemas['BuildUpView'] }>()
const emit = defineEmits<{
  change: [fields: Omit<Schemas['BuildUpChange'], 'version'>]
  copy: []
  remove: []
}>()
type Size = Schemas['ReferenceSizeView']
const projectId = useProjectId()
const { data: project } = useProject()
const at = <P extends object>(path: P) => ({ params: { path: { project_id: projectId.value, ...path } } })
const stage = useLedgerStage<Size>(() => props.rate.sizes, {
  write: (size, version, fields) =>
    ask(
      client.PATCH('/api/projects/{project_id}/reference-sizes/{reference_size}', {
        ...at({ reference_size: size.id }),
        body: { version, ...fields },
      }),
    ),
  make(fields, key) {
    if (key !== 'size') return 'A row begins with its size.'
    return () =>
      ask(
        client.POST('/api/projects/{project_id}/build-ups/{build_up}/sizes', {
          ...at({ build_up: props.rate.id }),
          body: { size: '', ...fields } as Schemas['NewReferenceSize'],
        }),
      )
  },
  drop: (size) =>
    ask(
      client.DELETE(
        '/api/projects/{project_id}/reference-sizes/{reference_size}',
        at({ reference_size: size.id }),
      ),
    ),
  ref: () => `build-up:${props.rate.id}`,
  fields: (key, text) => ({ [key]: key === 'size' ? text : text.trim() || null }),
})
const { readonly } = stage
const money = (value: string | null) => (value === null ? '' : shown(value, 2, 4))
const columns = computed<Column<Size>[]>(() => [
  {
    key: 'size',
    label: `${props.rate.sized_by || 'Size'} ${props.rate.sized_in}`,
    number: true,
    text: (s) => s.size,
    show: (s) => shown(s.at, 0, 4),
    hint: 'a size',
  },
  ...(['labour', 'plant', 'material'] as const).map((part): Column<Size> => ({
    key: part,
    label: part[0].toUpperCase() + part.slice(1),
    number: true,
    width: '100px',
    text: (s) => (s[part] === null ? '' : typeable(s[part]!)),
    show: (s) => money(s[part]),
  })),
  { key: 'together', label: 'Together', number: true, width: '100px', show: (s) => money(s.together) },
  {
    key: 'whole',
    label: 'Whole, as told',
    number: true,
    width: '112px',
    text: (s) => (s.whole === null ? '' : typeable(s.whole)),
    show: (s) => money(s.whole),
  },
])
const rows = computed<Row<Size>[]>(() => [
  ...props.rate.sizes.map(
    (size): Row<Size> => ({
      id: size.id,
      kind: 'line',
      data: size,
      warn:
        size.whole !== null && size.together !== null && Number(size.whole).toFixed(2) !== Number(size.together).toFixed(2)
          ? 'Its parts come to something else than its whole.'
          : '',
    }),
  ),
  ...stage.ghost.value,
]) // prettier-ignore
const taking = ref(false)
const fileOf = (form: string) => `/api/projects/${projectId.value}/build-ups/${props.rate.id}/sizes.${form}`
const asked = ref('')
const { data: reading, error } = useQuery({
  queryKey: computed(() => [...keys.buildUp(projectId.value, props.rate.id), 'read', asked.value, props.rate.sizes]),
  queryFn: () =>
    ask(
      client.GET('/api/projects/{project_id}/build-ups/{build_up}/read', {
        params: { path: { project_id: projectId.value, build_up: props.rate.id }, query: { size: asked.value } },
      }),
    ),
  enabled: computed(() => !!asked.value.trim()),
  retry: false,
}) // prettier-ignore
const told = computed(() =>
  reading.value && asked.value
    ? Object.entries(reading.value.parts)
        .map(([part, value]) => `${part} ${shown(value, 2, 2)}`)
        .join(' + ')
    : '',
)
</script>

<template>
  <SizedHead
    :rate="rate"
    :readonly="readonly"
    what="reference"
    by="thickness"
    @change="emit('change', $event)"
    @copy="emit('copy')"
    @remove="emit('remove')"
  />
  <p class="from">
    <label class="quiet"
      >source
      <EntryField
        class="source"
        :value="rate.source"
        :disabled="readonly"
        label="Source of the reference"
        placeholder="price book, finished job"
        @change="emit('change', { source: $event })"
    /></label>
    <label class="quiet"
      >of
      <EntryField
        class="year"
        :value="rate.year"
        :disabled="readonly"
        label="Year of the reference"
        placeholder="year"
        @change="emit('change', { year: $event })"
    /></label>
    <NButton v-if="!readonly" text @click="taking = true">From a table…</NButton>
    <Menu v-if="rate.sizes.length" v-slot="{ close }" label="As a table">
      <a v-for="form in ['xlsx', 'csv']" :key="form" :href="fileOf(form)" download @click="close">{{
        form.toUpperCase()
      }}</a>
    </Menu>
    <span class="push"></span>
    <label class="quiet"
      >read at
      <EntryField
        class="year"
        :value="asked"
        label="Read it at"
        placeholder="a size"
        @change="asked = $event"
      />
      {{ rate.sized_in }}</label
    >
  </p>
  <p v-if="asked && (reading || error)" class="told" role="status">
    <template v-if="error">{{ error.message }}</template>
    <template v-else-if="reading">
      <b class="num">{{ shown(reading.total, 2, 4) }}</b> {{ project?.currency }}/{{ rate.unit }}, {{ told
      }}<template v-if="told">, </template>{{ reading.told
      }}<template v-if="reading.whole !== null && told"
        >; as a whole {{ shown(reading.whole, 2, 4) }}</template
      >. <span v-for="said in reading.findings" :key="said" class="found">{{ said }}</span>
    </template>
  </p>
  <ReferenceLines
    v-if="rate.sizes.length > 1"
    :sizes="rate.sizes"
    :unit="rate.sized_in"
    :reading="asked && !error ? (reading ?? null) : null"
  />
  <SizesIn v-if="taking" :rate="rate" @done="taking = false" />
  <LedgerTable :label="`Sizes of ${rate.name}`" :columns="columns" :rows="rows" v-bind="stage.bound.value" />
</template>

<style scoped>
.source {
  width: 158px;
}
.year {
  width: 64px;
}
.from {
  display: flex;
  align-items: center;
  flex: none;
  gap: 12px;
  margin: 0;
  padding: 6px 12px;
  border-bottom: 1px solid var(--rule);
}
label {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  white-space: nowrap;
}
.push {
  margin-left: auto;
}
.told {
  margin: 0;
  padding: 5px 12px;
  border-bottom: 1px solid var(--rule);
}
.found {
  color: var(--accent-ink);
}
</style>
