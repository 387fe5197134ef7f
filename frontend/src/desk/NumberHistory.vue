<script setup lang="ts">
// What was done to the number in focus: who, when, from what to what.
import { NButton } from 'naive-ui'
import { computed, ref } from 'vue'
import { useHistoryOf } from '../api/project'

const props = defineProps<{ of: string }>()
const open = ref(false)
const typed = computed(() => !['bill'].includes(props.of.split(':')[0]))
const { data: steps } = useHistoryOf(() => (open.value ? props.of : ''))
const time = (at: string) =>
  new Date(`${at}Z`).toLocaleString('en-GB', {
    day: '2-digit',
    month: 'short',
    hour: '2-digit',
    minute: '2-digit',
  })
</script>

<template>
  <div v-if="typed" class="history">
    <NButton text :aria-expanded="open" @click="open = !open"> {{ open ? '▾' : '▸' }} History </NButton>
    <template v-if="open">
      <p v-if="steps && !steps.length" class="quiet">Nothing was changed since it was made.</p>
      <p v-for="(step, at) in steps" :key="at">
        <span class="quiet">{{ time(step.at) }}, {{ step.person || 'the application' }}</span
        ><br />
        <template v-if="step.field"
          >{{ step.field.replaceAll('_', ' ') }}
          <template v-if="step.before || step.after"
            ><span class="num">{{ step.before || 'nothing' }}</span> →
            <span class="num">{{ step.after || 'nothing' }}</span></template
          ></template
        >
        <template v-else>{{ step.label }}</template>
      </p>
    </template>
  </div>
</template>

<style scoped>
.history {
  margin-top: 16px;
}
p {
  margin: 0;
  padding: 4px 0;
  border-bottom: 1px solid var(--rule);
}
.num {
  white-space: normal;
  overflow-wrap: anywhere;
}
</style>
