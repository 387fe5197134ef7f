<script setup lang="ts">
// What a route comes to. Each line walks to its arithmetic; under it what falls to each stretch.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { quantity } from '../../desk/numbers'
import { useWalkStore } from '../../desk/walk'
import type { Way } from './routes'

const props = defineProps<{ way: Way }>()
const walk = useWalkStore()
/** How volumes are reckoned, in words. */
const how = computed(
  () =>
    `by ${props.way.rule === 'mean area' ? 'mean area' : props.way.rule === 'frustum' ? 'frusta' : 'the prismoidal rule'}, curves ${props.way.curved ? '' : 'not '}heeded`,
)
const look = (output: string) => walk.look(`quantity:${props.way.id}:${output}`)
const NAMED = /^(named_|cut$|fill|topsoil)/
/** The bill's own first; then surfaces and the like. */
const lines = computed(() => {
  const there = props.way.lines.filter((l) => l.net)
  return [...there.filter((l) => NAMED.test(l.output)), ...there.filter((l) => !NAMED.test(l.output))]
})
const order = computed(() => props.way.stretches.map((s) => s.cells.name))
const place = (name: string) => (order.value.includes(name) ? order.value.indexOf(name) : 1e6)
/** What falls to each stretch, in their order. */
const stretches = (l: Way['lines'][number]) =>
  NAMED.test(l.output)
    ? l.parts.filter((p) => p.split === 'stretch').sort((a, b) => place(a.part) - place(b.part))
    : []
</script>

<template>
  <section class="shares scroll" aria-label="What the route comes to">
    <h3>
      Quantities <span class="quiet how">{{ how }}</span>
    </h3>
    <template v-for="l in lines" :key="l.output">
      <NButton text class="laid row" @click="look(l.output)"
        ><span>{{ l.label }}</span
        ><span class="num"
          >{{ quantity(l.net, l.unit) }} <span class="quiet">{{ l.unit }}</span></span
        ></NButton
      >
      <p v-for="p in stretches(l)" :key="p.part" class="part">
        <span class="quiet">{{ p.part }}</span><span class="num quiet">{{ quantity(p.net, l.unit) }}</span>
      </p>
    </template>
    <p v-if="!lines.length" class="quiet">None yet.</p>
  </section>
</template>

<style scoped>
.how {
  font-weight: 400;
}
.part {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  margin: 0;
  padding: 0 28px 2px 12px;
  font-size: 12px;
}
</style>
