<script setup lang="ts">
// The working column: the arithmetic of the number in focus, where it comes from and where it goes to.
import { NButton } from 'naive-ui'
import { computed, defineAsyncComponent } from 'vue'
import { useProjectId, useWalk } from '../api/project'
import type { Schemas } from '../api/client'
import { precise, shown } from './numbers'
import { useWalkStore } from './walk'
import { useTying } from './tying'
import NumberHistory from './NumberHistory.vue'
import TryAnother from './TryAnother.vue'
import WorkingPart from './WorkingPart.vue'

const TieHere = defineAsyncComponent(() => import('./TieHere.vue'))
const walk = useWalkStore()
const tying = useTying()
const project = useProjectId()
const { data, error } = useWalk(() => walk.focus)
const view = computed(() =>
  walk.focus && data.value?.ref === walk.focus && !error.value ? data.value : null,
)
const working = computed(() => view.value?.working)
/** Numbers of things as they come; a cut length to the mm, as schedules have it. */
const told = (value: number | null, unit: string) =>
  value !== null && unit === 'nr'
    ? shown(value, 0, 2)
    : value !== null && walk.focus.startsWith('bar:')
      ? shown(value, 3)
      : precise(value)
const go = (link: Schemas['WalkLink']) => walk.go(project.value, link)
</script>

<template>
  <aside class="working" aria-label="Working">
    <NButton
      text
      class="fold"
      :aria-expanded="!walk.folded"
      :title="walk.folded ? 'Show the working' : 'Fold the working'"
      @click="walk.folded = !walk.folded"
    >
      {{ walk.folded ? '‹' : '›' }}
    </NButton>
    <!-- What a stage puts in the working's place, and below it, beside the table. -->
    <div v-show="!walk.folded" id="in-place"></div>
    <TieHere v-if="tying.waiting && !walk.folded" :number="view?.ref ?? ''" />
    <div v-if="!walk.folded" class="scroll number">
      <template v-if="working && view">
        <h2>{{ working.name }}</h2>
        <p class="value">
          <span class="num">{{ told(working.value, working.unit) }}</span>
          <span class="quiet">{{ working.unit }}</span>
        </p>
        <TryAnother v-if="view.tries" :number="view.ref" />
        <p v-for="said in view.findings" :key="said" class="finding">{{ said }}</p>
        <table v-if="working.rows.length" class="paper" aria-label="Dimension paper">
          <tbody v-for="(row, at) in working.rows" :key="at" :class="{ ddt: row.deduct }">
            <tr v-for="(size, line) in row.dimensions.length ? row.dimensions : [null]" :key="line">
              <td class="num">{{ line === 0 ? `${row.deduct ? 'ddt ' : ''}${row.times}` : '' }}</td>
              <td class="num">{{ shown(size) }}</td>
              <template v-if="line === Math.max(row.dimensions.length - 1, 0)">
                <td class="num">{{ shown(row.squared) }}</td>
                <td class="note">{{ row.note }}</td>
              </template>
              <template v-else
                ><td></td>
                <td></td
              ></template>
            </tr>
          </tbody>
          <tfoot>
            <tr>
              <td></td>
              <td></td>
              <td class="num">{{ shown(working.value) }}</td>
              <td>{{ working.unit }}</td>
            </tr>
          </tfoot>
        </table>
        <div v-if="working.figures" class="sum">
          <p v-if="working.expression" class="quiet">{{ working.expression }}</p>
          <p class="num">{{ working.figures }}</p>
          <p v-if="!working.rows.length" class="num">
            = {{ told(working.value, working.unit) }} {{ working.unit }}
          </p>
        </div>
        <p v-if="working.source" class="quiet">{{ working.source }}</p>
        <WorkingPart v-for="(part, at) in working.parts" :key="at" :part="part" />
        <template v-if="view.comes_from.length">
          <h3>Comes from</h3>
          <NButton v-for="link in view.comes_from" :key="link.ref" text class="laid step" @click="go(link)">
            <span class="link">{{ link.name }}</span><span class="num"
              >{{ link.value }} <span class="quiet">{{ link.unit }}</span></span
            >
          </NButton>
        </template>
        <template v-if="view.goes_to.length">
          <h3>Goes to</h3>
          <NButton v-for="link in view.goes_to" :key="link.ref" text class="laid step" @click="go(link)">
            <span class="link">{{ link.name }}</span><span class="num"
              >{{ link.value }} <span class="quiet">{{ link.unit }}</span></span
            >
          </NButton>
        </template>
        <NumberHistory :key="walk.focus" :of="walk.focus" />
      </template>
      <div v-else-if="error && walk.focus" class="empty">
        <p>{{ error.message }}</p>
      </div>
      <div v-else class="empty">
        <h2>Working</h2>
        <p>Put the cursor on any number to see its arithmetic, where it comes from and what it goes to.</p>
      </div>
    </div>
    <div v-show="!walk.folded" id="beside"></div>
  </aside>
</template>

<style scoped>
.working {
  grid-area: working;
  position: relative;
  display: flex;
  flex-direction: column;
  min-height: 0;
  border-left: 1px solid var(--rule);
  background: var(--panel);
}
.fold {
  position: absolute;
  top: 8px;
  right: 8px;
  width: 16px;
  text-align: center;
  color: var(--quiet);
}
.number {
  flex: 1;
  padding: 11px 16px 24px;
}
#in-place:not(:empty) {
  flex: 1;
  min-height: 0;
}
#in-place:not(:empty) + .number {
  display: none;
}
#beside {
  display: flex;
  flex-direction: column;
  flex: 0 1 auto;
  max-height: 45%;
}
h2 {
  padding-right: 16px;
}
.value {
  margin: 2px 0 10px;
}
.value .num {
  font-size: 24px;
  margin-right: 6px;
}
.finding {
  margin: 0 0 8px;
  padding: 5px 8px;
  border-left: 3px solid var(--accent);
  background: var(--accent-soft);
}
.paper {
  width: 100%;
  border-collapse: collapse;
  border-top: 1px solid var(--rule);
}
.paper td {
  padding: 2px 6px;
  border-left: 1px solid var(--rule);
  vertical-align: top;
  text-align: right;
}
.paper td:first-child {
  border-left: 0;
  width: 46px;
}
.paper td:nth-child(2),
.paper td:nth-child(3) {
  width: 68px;
}
.paper td:last-child {
  text-align: left;
}
.paper tbody {
  border-bottom: 1px solid var(--rule);
}
.paper tfoot {
  border-top: 1px solid var(--ink);
  font-weight: 600;
}
.paper .note {
  font-size: 12px;
}
.ddt {
  color: var(--bad);
}
.sum {
  margin: 10px 0;
  padding: 8px 10px;
  border: 1px solid var(--rule);
  background: var(--ground);
}
.sum p {
  margin: 0;
  white-space: normal;
  overflow-wrap: anywhere;
}
h3 {
  margin: 16px 0 4px;
  color: var(--quiet);
}
.step {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  width: 100%;
  padding: 5px 0;
  border-bottom: 1px solid var(--rule);
}
.step:hover .link {
  text-decoration: underline;
}
</style>
