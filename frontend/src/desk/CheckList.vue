<script setup lang="ts">
// The checks in the head strip: how many stop the bill, how many want a look; each with where, why and a way there.
import { NButton, NPopover } from 'naive-ui'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Schemas } from '../api/client'
import { useCheckCount, useChecks, useProjectId } from '../api/project'
import { useWalkStore } from './walk'

const router = useRouter()
const walk = useWalkStore()
const project = useProjectId()
const open = ref(false)
const { data: count } = useCheckCount()
const { data: checks } = useChecks(open)
const stops = computed(() => count.value?.stop ?? 0)
const looks = computed(() => count.value?.look ?? 0)

async function go(check: Schemas['CheckView']) {
  open.value = false
  if (check.stage === 'make-ups')
    return router.push(`/projects/${project.value}/make-ups/${check.ref.split(':')[1]}`)
  if (check.stage === 'sheets') return router.push(`/projects/${project.value}/sheets/${check.target}`)
  const ref_ = check.ref.endsWith(':') ? '' : check.ref
  const target = check.stage === 'bill' || check.target === null ? '' : `/${check.target}`
  if (ref_) walk.focus = ref_
  await router.push({
    path: `/projects/${project.value}/${check.stage}${target}`,
    query: ref_ ? { at: ref_ } : {},
  })
}
</script>

<template>
  <NPopover v-model:show="open" trigger="click" placement="bottom-end" :show-arrow="false" raw>
    <template #trigger>
      <NButton
        text
        class="checks"
        :aria-expanded="open"
        :title="`${stops} stop the bill, ${looks} want a look`"
        @keydown.esc.stop="open = false"
      >
        Checks <b v-if="stops" class="stop num">{{ stops }} !</b>
        <b v-if="looks" class="look num">{{ looks }} ?</b>
        <b v-if="count && !stops && !looks" class="good">none</b>
      </NButton>
    </template>
    <div class="list scroll" role="dialog" aria-label="Checks" @keydown.esc.stop="open = false">
      <p v-if="checks && !checks.length" class="quiet none">Nothing looks wrong.</p>
      <NButton
        v-for="(check, at) in checks"
        :key="at"
        text
        class="laid check"
        :class="check.severity"
        @click="go(check)"
      >
        <b aria-hidden="true">{{ check.severity === 'stop' ? '!' : '?' }}</b>
        <span
          >{{ check.says }}<br /><span class="quiet">{{ check.rule }}, {{ check.place }}</span></span
        >
      </NButton>
    </div>
  </NPopover>
</template>

<style scoped>
.checks {
  padding: 4px 6px;
  color: var(--quiet);
}
.stop > b,
.checks .stop {
  color: var(--bad);
}
.look > b,
.checks .look {
  color: var(--accent-ink);
}
.good {
  color: var(--good);
  font-weight: 500;
}
.list {
  width: 430px;
  max-height: 60vh;
  border: 1px solid var(--ink);
  background: var(--panel);
  white-space: normal;
}
.check {
  display: grid;
  grid-template-columns: 18px 1fr;
  width: 100%;
  padding: 7px 12px;
  border-bottom: 1px solid var(--rule);
}
.check:hover {
  background: var(--accent-soft);
}
.none {
  padding: 4px 12px;
}
</style>
