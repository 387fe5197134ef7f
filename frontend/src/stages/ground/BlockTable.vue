<script setup lang="ts">
// Every square of the grid with its levels, area and volume; the one in focus stands in view.
import { NDataTable, type DataTableColumns, type DataTableInst } from 'naive-ui'
import { computed, nextTick, ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'
import { areaShown, volumeShown } from './units'

type Block = Schemas['BlockView'] & { at: number }
const props = defineProps<{ blocks: Schemas['BlocksView']; chosen: number | null }>()
const emit = defineEmits<{ pick: [at: number] }>()
const table = ref<DataTableInst>()
const ROW = 26
const rows = computed<Block[]>(() => props.blocks.blocks.map((b, at) => ({ ...b, at })))
const length = (metres: number) => shown(lengthHere(metres), 3)
const number = (key: string, title: string, width: number, told: (b: Block) => string) => ({
  key,
  title,
  width,
  align: 'right' as const,
  className: 'num',
  render: told,
})
const columns = computed<DataTableColumns<Block>>(() => [
  number('at', 'Nr', 48, (b) => String(b.at + 1)),
  number('east', `E ${unitHere('m')}`, 92, (b) => shown(lengthHere(b.east))),
  number('north', `N ${unitHere('m')}`, 92, (b) => shown(lengthHere(b.north))),
  number('ground', 'Ground', 80, (b) => length(b.ground)),
  number('formation', 'Formation', 84, (b) => length(b.formation)),
  number('height', 'Height', 74, (b) => length(b.ground - b.formation)),
  number('area', unitHere('m²'), 74, (b) => areaShown(b.area)),
  number('cut', `Cut ${unitHere('m³')}`, 84, (b) => (b.volume > 0 ? volumeShown(b.volume) : '')),
  number('fill', `Fill ${unitHere('m³')}`, 84, (b) => (b.volume < 0 ? volumeShown(-b.volume) : '')),
])
watch(
  () => props.chosen,
  async (at) => {
    await nextTick()
    if (at !== null) table.value?.scrollTo({ top: Math.max(0, (at - 1) * ROW), behavior: 'auto' })
  },
)
</script>

<template>
  <NDataTable
    ref="table"
    class="blocks"
    size="small"
    :bordered="false"
    :columns="columns"
    :data="rows"
    :row-key="(b: Block) => b.at"
    :row-class-name="(b: Block) => (b.at === chosen ? 'chosen' : '')"
    :row-props="(b: Block) => ({ onClick: () => emit('pick', b.at), style: 'cursor: pointer' })"
    :max-height="112"
    :min-row-height="ROW"
    virtual-scroll
  />
</template>

<style scoped>
.blocks :deep(td),
.blocks :deep(th) {
  height: 26px;
  padding: 0 8px;
}
.blocks :deep(.chosen td) {
  background: var(--accent-soft);
}
</style>
