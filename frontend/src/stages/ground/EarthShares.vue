<script setup lang="ts">
// What an earthwork comes to: by class, by depth, by stage, and what becomes of it. Each line walks to its arithmetic.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { shown } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import { unitHere } from '../../desk/ways'
import type { Work } from './earth'
import { areaShown, volumeShown } from './units'

const props = defineProps<{ work: Work }>()
const walk = useWalkStore()
const look = (output: string) => walk.look(`quantity:${props.work.id}:${output}`)
const own = computed(() => props.work.shares.find((s) => s.key === 'ordinary'))
const hauled = computed(() => {
  const h = props.work.haul
  return [
    { output: 'fill', name: 'Fill', value: volumeShown(props.work.filled), unit: 'm³' },
    { output: 'carted', name: 'Carted away, in place', value: volumeShown(h.exported), unit: 'm³' },
    { output: 'carted_loose', name: 'Carted away, loose', value: volumeShown(h.exported_loose), unit: 'm³' },
    { output: 'imported_loose', name: 'Brought in, loose', value: volumeShown(h.imported_loose), unit: 'm³' },
    ...(h.export_loads
      ? [{ output: 'loads_away', name: 'Loads away', value: shown(h.export_loads, 0), unit: 'nr' }]
      : []),
    ...(h.import_loads
      ? [{ output: 'loads_in', name: 'Loads in', value: shown(h.import_loads, 0), unit: 'nr' }]
      : []),
    { output: 'floor', name: 'Formation', value: areaShown(props.work.floor), unit: 'm²' },
    { output: 'slopes', name: 'Slopes, true area', value: areaShown(props.work.slopes), unit: 'm²' },
  ]
})
</script>

<template>
  <section class="shares scroll" aria-label="What the earthwork comes to">
    <h3>Dug, by class</h3>
    <NButton v-for="s in work.shares" :key="s.key" text class="laid row" @click="look(s.output)"
      ><span>{{ s.name }}</span
      ><span class="num"
        >{{ volumeShown(s.volume) }} <span class="quiet">{{ unitHere('m³') }}</span></span
      ></NButton
    >
    <template v-if="own?.bands.length">
      <h3>Ordinary digging by depth</h3>
      <p v-for="{ name, value } in own.bands" :key="name" class="row">
        <span>{{ name }}</span><span class="num"
          >{{ volumeShown(value) }} <span class="quiet">{{ unitHere('m³') }}</span></span
        >
      </p>
    </template>
    <template v-if="own?.stages.length">
      <h3>Ordinary digging by stage</h3>
      <p v-for="{ name, value } in own.stages" :key="name" class="row">
        <span>{{ name }}</span><span class="num"
          >{{ volumeShown(value) }} <span class="quiet">{{ unitHere('m³') }}</span></span
        >
      </p>
    </template>
    <h3>What becomes of it</h3>
    <NButton v-for="h in hauled" :key="h.output" text class="laid row" @click="look(h.output)"
      ><span>{{ h.name }}</span
      ><span class="num"
        >{{ h.value }} <span class="quiet">{{ unitHere(h.unit) }}</span></span
      ></NButton
    >
  </section>
</template>
