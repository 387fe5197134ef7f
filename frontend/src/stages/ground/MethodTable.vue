<script setup lang="ts">
// The methods side by side, each with how far it is off the exact one; which is billed is chosen here.
import { NButton } from 'naive-ui'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'
import EntryField from '../../desk/EntryField.vue'
import { unitHere } from '../../desk/ways'
import type { Work } from './earth'
import { volumeShown } from './units'

defineProps<{ work: Work; readonly: boolean }>()
const emit = defineEmits<{ change: [fields: Partial<Schemas['EarthworkChange']>] }>()
const net = (cut: number, fill: number) => `${cut > fill ? '+' : ''}${volumeShown(cut - fill)}`
</script>

<template>
  <table class="methods" aria-label="Methods side by side">
    <thead>
      <tr>
        <th>Method</th>
        <th class="n">Cut {{ unitHere('m³') }}</th>
        <th class="n">Fill {{ unitHere('m³') }}</th>
        <th class="n">Net {{ unitHere('m³') }}</th>
        <th class="n">off exact</th>
        <th></th>
      </tr>
    </thead>
    <tbody>
      <tr v-for="m in work.methods" :key="m.name" :class="{ on: m.name === work.method }">
        <td>
          <span v-if="m.name === 'exact'">Exact, by prisms</span>
          <label v-else-if="m.name === 'square grid'"
            >Squares of
            <EntryField
              class="small"
              number
              :value="work.spacing"
              label="Spacing of the grid"
              :disabled="readonly"
              @change="emit('change', { spacing: $event })"
            />
            {{ unitHere('m') }}</label
          >
          <label v-else-if="m.name === 'grid sections'"
            >Sections along it, at
            <EntryField
              class="tiny"
              number
              :value="work.angle"
              label="Angle of the grid in degrees"
              :disabled="readonly"
              @change="emit('change', { angle: $event })"
            />°</label
          >
          <label v-else
            >Contour areas every
            <EntryField
              class="tiny"
              number
              :value="work.interval"
              label="Interval of contour areas"
              :disabled="readonly"
              @change="emit('change', { interval: $event })"
            />
            {{ unitHere('m') }}</label
          >
        </td>
        <template v-if="m.says"
          ><td colspan="4" class="bad">{{ m.says }}</td></template
        >
        <template v-else>
          <td class="n num">{{ volumeShown(m.cut) }}</td>
          <td class="n num">{{ volumeShown(m.fill) }}</td>
          <td class="n num">{{ net(m.cut, m.fill) }}</td>
          <td class="n num">{{ m.off === null ? '' : `${m.off > 0 ? '+' : ''}${shown(m.off, 1)} %` }}</td>
        </template>
        <td class="billed">
          <b v-if="m.name === work.method">billed</b>
          <NButton
            v-else-if="!readonly && !m.says"
            text
            type="primary"
            @click="emit('change', { method: m.name as 'exact' })"
            >bill this</NButton
          >
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
th {
  padding: 4px 12px;
  font-weight: 600;
  text-align: left;
  color: var(--quiet);
  border-bottom: 1px solid var(--ink);
}
td {
  height: 28px;
  padding: 0 12px;
  border-bottom: 1px solid var(--rule);
}
label {
  display: flex;
  align-items: center;
  gap: 6px;
}
.small {
  width: 62px;
}
.tiny {
  width: 52px;
}
.n {
  text-align: right;
}
.on td:first-child {
  font-weight: 600;
}
.billed {
  width: 84px;
}
.billed b {
  color: var(--main);
}
</style>
