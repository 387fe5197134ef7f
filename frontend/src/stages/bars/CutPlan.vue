<script setup lang="ts">
// How the bars of one size are cut: each pattern drawn as the bar it is cut from, and what the plan proves.
import { computed } from 'vue'
import type { Schemas } from '../../api/client'
import { shown } from '../../desk/numbers'
import { lengthHere, unitHere } from '../../desk/ways'

const props = defineProps<{ plan: Schemas['PlanView']; chosen: boolean }>()
defineEmits<{ look: [] }>()
const MOST = 60 // patterns drawn at once
const longest = computed(() => Math.max(...props.plan.patterns.map((p) => p.stock), 0.001))
const length = (metres: number) => shown(lengthHere(metres), unitHere('m') === 'm' ? 3 : 2)
const number = computed(() => props.plan.order.reduce((sum, each) => sum + each.number, 0))
const stock = computed(() =>
  props.plan.order
    .map((each) => `${each.number} × ${shown(lengthHere(each.length), 0, 2)} ${unitHere('m')}`)
    .join(', '),
)
const proof = computed(() => {
  const { plan } = props
  if (!number.value) return 'all of it from pieces kept'
  if (plan.proven)
    return plan.fewest === null ? 'no plan can use less stock' : `no plan can need fewer than ${plan.fewest}`
  return plan.fewest === null
    ? `not proven best: no plan can use less than ${length(plan.bound)} ${unitHere('m')}`
    : `not proven best: no plan can need fewer than ${plan.fewest}`
})
/** Too short to be told on each piece; they are told together. */
const narrow = (metres: number) => metres / longest.value < 0.058
</script>

<template>
  <section class="plan" :class="{ chosen }">
    <h3>
      <button class="plain link" @click="$emit('look')">
        {{ plan.grade }}{{ plan.size }}: {{ number }} bars to buy
      </button>
      <span class="quiet">
        {{ stock }}{{ stock ? ' · ' : '' }}off-cuts {{ shown(plan.waste, 1) }} % · {{ proof }}
      </span>
      <span v-if="!plan.fresh" class="old">of the schedule as it was</span>
    </h3>
    <p v-if="plan.too_long.length" class="bad">
      Longer than the stock, so not cut:
      {{
        plan.too_long.map((each) => `${each.number} × ${length(each.length)} ${unitHere('m')}`).join(', ')
      }}. Give them laps, or longer stock.
    </p>
    <div v-for="(p, n) in plan.patterns.slice(0, MOST)" :key="n" class="pattern">
      <span class="num times">{{ p.times }} ×</span>
      <div
        class="bar"
        :style="{ width: `${(p.stock / longest) * 100}%` }"
        :class="{ kept: p.kept }"
        :title="p.kept ? `from a piece of ${length(p.stock)} kept` : ''"
      >
        <span
          v-for="cut in p.cuts"
          :key="cut.length"
          class="num cut"
          :style="{ flexGrow: cut.length * cut.number }"
          :title="`${cut.number} × ${length(cut.length)} ${unitHere('m')}`"
        >
          <span v-for="at in cut.number" :key="at" class="piece"
            ><span v-if="!narrow(cut.length)">{{ length(cut.length) }}</span></span
          >
          <span v-if="narrow(cut.length)" class="over">{{ cut.number }} × {{ length(cut.length) }}</span>
        </span>
        <span
          v-if="p.offcut > 0.0005"
          class="num off"
          :style="{ flexGrow: p.offcut }"
          :title="`${length(p.offcut)} ${unitHere('m')} left`"
          ><span>{{ length(p.offcut) }}</span></span
        >
      </div>
    </div>
    <p v-if="plan.patterns.length > MOST" class="quiet">
      and {{ plan.patterns.length - MOST }} more ways to cut, all in the files
    </p>
  </section>
</template>

<style scoped>
.plan {
  padding: 8px 12px 10px;
  border-bottom: 1px solid var(--rule);
  border-left: 3px solid transparent;
}
.chosen {
  border-left-color: var(--accent);
}
h3 {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 12px;
  margin-bottom: 6px;
}
h3 .quiet {
  font-weight: 400;
}
.old {
  color: var(--accent-ink);
  font-weight: 400;
}
p {
  margin: 2px 0;
}
.pattern {
  display: flex;
  align-items: center;
  gap: 8px;
  margin: 3px 0;
}
.times {
  flex: 0 0 52px;
  text-align: right;
}
.pattern > .bar {
  flex: none;
  display: flex;
  height: 20px;
  max-width: calc(100% - 60px);
}
.cut {
  position: relative;
  display: flex;
  flex-basis: 0;
  min-width: 0;
  container-type: inline-size;
}
.piece,
.off,
.over {
  overflow: hidden;
  font-size: 10px;
  line-height: 18px;
  text-align: center;
}
.piece,
.off {
  flex: 1 1 0;
  container-type: inline-size;
}
.piece {
  border: 1px solid #5b4a78;
  border-right-width: 0;
  background: #ece8f3;
}
.cut:last-child .piece:last-of-type {
  border-right-width: 1px;
}
.over {
  position: absolute;
  top: 2px;
  left: 50%;
  padding: 0 4px;
  background: #ece8f3;
  line-height: 16px;
  white-space: nowrap;
  transform: translateX(-50%);
}
@container (max-width: 33px) {
  .piece > span,
  .off > span {
    display: none;
  }
}
@container (max-width: 68px) {
  .over {
    display: none;
  }
}
.kept .piece {
  background: repeating-linear-gradient(135deg, #ece8f3 0 4px, #fff 4px 7px);
}
.off {
  border: 1px dashed var(--quiet);
  border-left: 1px solid #5b4a78;
  color: var(--quiet);
}
</style>
