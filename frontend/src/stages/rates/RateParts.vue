<script setup lang="ts">
// What makes up a rate, drawn as one bar in its groups' shares.
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { money } from '../../desk/numbers'

const props = defineProps<{ groups: Schemas['GroupTotal'][]; rate: string | null | undefined }>()
const colours: Record<string, string> = {
  labour: '#1D6670',
  plant: '#8FB3B5',
  material: '#B86F24',
  sundries: '#E9CBA4',
  subcontract: '#6A645A',
}
const total = computed(() => props.groups.reduce((sum, group) => sum + Number(group.unit_price), 0) || 1)
</script>

<template>
  <div class="parts">
    <div class="bar" aria-hidden="true">
      <i
        v-for="group in groups"
        :key="group.group"
        :style="{ width: `${(Number(group.unit_price) / total) * 100}%`, background: colours[group.group] }"
      ></i>
    </div>
    <span v-for="group in groups" :key="group.group"
      ><i class="key" :style="{ background: colours[group.group] }"></i>{{ group.group }}
      <b class="num">{{ money(group.unit_price) }}</b></span
    >
  </div>
</template>

<style scoped>
.parts {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  padding: 12px 12px 8px;
}
.bar {
  display: flex;
  width: 100%;
  height: 18px;
  background: var(--rule);
}
.key {
  display: inline-block;
  width: 9px;
  height: 9px;
  margin-right: 6px;
}
b {
  font-weight: 400;
}
span {
  color: var(--quiet);
}
</style>
