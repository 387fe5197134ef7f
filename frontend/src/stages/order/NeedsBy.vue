<script setup lang="ts">
// What the bill needs, by section or by stage: each group's resources, net and with waste.
import { NButton } from 'naive-ui'
import { useNeedsBy } from '../../api/order'
import { useProject } from '../../api/project'
import { money, shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'

const props = defineProps<{ by: 'section' | 'stage' }>()
const walk = useWalkStore()
const { data: project } = useProject()
const { data: groups } = useNeedsBy(() => props.by)
</script>

<template>
  <div class="scroll" tabindex="0" role="region" :aria-label="`What is needed by ${by}`">
    <table v-if="groups" class="listing">
      <thead>
        <tr>
          <th>Resource</th>
          <th>Kind</th>
          <th class="num">Net</th>
          <th class="num">With waste</th>
          <th class="num">Money {{ project?.currency }}</th>
        </tr>
      </thead>
      <tbody v-for="group in groups" :key="group.name">
        <tr class="group">
          <td colspan="4">{{ group.name }}</td>
          <td class="num">{{ money(group.money) }}</td>
        </tr>
        <tr v-for="row in group.rows" :key="row.resource">
          <td>
            <NButton text class="laid" @click="walk.look(`need:${row.resource}`)">{{ row.name }}</NButton>
          </td>
          <td class="quiet">{{ row.kind }}</td>
          <td class="num">{{ shown(row.net, 2, 2) }} {{ row.unit }}</td>
          <td class="num">{{ shown(row.gross, 2, 2) }} {{ row.unit }}</td>
          <td class="num">{{ money(row.money) }}</td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  flex: 1;
}
</style>
