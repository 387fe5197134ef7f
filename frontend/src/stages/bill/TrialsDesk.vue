<script setup lang="ts">
// Trials beside one another: what each would do to the bill and its items; the values of one, together and apart.
import { NButton } from 'naive-ui'
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { ask, client, type Schemas } from '../../api/client'
import { useProject, useSave } from '../../api/project'
import { useEffects, useTrials } from '../../api/trials'
import EntryField from '../../desk/EntryField.vue'
import { money, signed } from '../../desk/numbers'

type Trial = Schemas['TrialView']
type Change = Schemas['TrialChangeView']
const MOST_ITEMS = 60
const route = useRoute()
const router = useRouter()
const { save, projectId } = useSave()
const { data: project } = useProject()
const { data: trials } = useTrials()
const readonly = computed(() => project.value?.role === 'viewer')
const chosen = computed(
  () => trials.value?.find((each) => each.id === Number(route.query.trial)) ?? trials.value?.[0],
)
/** What a trial's effect is kept under: it is asked for anew when a value in it is another. */
const mark = (trial: Trial) => trial.changes.map((c) => `${c.id}.${c.version}.${c.now}`).join(' ')
const effects = useEffects(() => (trials.value ?? []).map((each) => ({ trial: each.id, mark: mark(each) })))
const apart = useEffects(() => {
  const of = chosen.value
  return of ? of.changes.map((c) => ({ trial: of.id, value: c.id, mark: mark(of) })) : []
})
const by = (effect?: Schemas['TriedEffect']) =>
  effect ? signed(Number(effect.bill_after) - Number(effect.bill_before)) : '…'
/** The items that move in any trial, those that move most first, with by how much in each. */
const items = computed(() => {
  const found = new Map<number, { ref: string; words: string; by: (number | null)[]; most: number }>()
  effects.value.forEach(({ data }, at) => {
    for (const item of data?.items ?? []) {
      const moved = Number(item.after) - Number(item.before)
      const row = found.get(item.id) ?? {
        ref: item.ref,
        words: item.description,
        by: effects.value.map(() => null),
        most: 0,
      }
      row.by[at] = moved
      row.most = Math.max(row.most, Math.abs(moved))
      found.set(item.id, row)
    }
  })
  return [...found.values()].sort((a, b) => b.most - a.most)
})
const look = (trial: Trial) => router.replace({ query: { ...route.query, trial: String(trial.id) } })
const of = (trial: Trial) => ({ params: { path: { project_id: projectId.value, trial: trial.id } } })
const keep = (trial: Trial) =>
  save((version) =>
    ask(
      client.POST('/api/projects/{project_id}/trials/{trial}/kept', {
        ...of(trial),
        body: { over: version !== undefined },
      }),
    ),
  )
const renew = (trial: Trial) =>
  save(() => ask(client.POST('/api/projects/{project_id}/trials/{trial}/renewed', of(trial))))
const drop = (trial: Trial) =>
  save(() => ask(client.DELETE('/api/projects/{project_id}/trials/{trial}', of(trial))))
const rename = (trial: Trial, name: string) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/trials/{trial}', {
        ...of(trial),
        body: { version: version ?? trial.version, name },
      }),
    ),
  )
const put = (trial: Trial, change: Change, value: string) =>
  save(() =>
    ask(
      client.POST('/api/projects/{project_id}/trials/{trial}/values', {
        ...of(trial),
        body: { ref: change.ref, field: change.field, value },
      }),
    ),
  )
const dropValue = (change: Change) =>
  save(() =>
    ask(
      client.DELETE('/api/projects/{project_id}/trial-values/{trial_value}', {
        params: { path: { project_id: projectId.value, trial_value: change.id } },
      }),
    ),
  )
</script>

<template>
  <div class="desk-head"><b>Trials beside the bill</b></div>
  <div v-if="trials && !trials.length" class="empty">
    <h2>No trial yet</h2>
    <p>
      Walk to a number and try another value in the working column: what it would do is shown there, and it
      can be put into a trial under a name.
    </p>
  </div>
  <div v-else-if="trials && chosen" class="scroll" tabindex="0" role="region" aria-label="Trials">
    <table class="listing">
      <thead>
        <tr>
          <th>Trial</th>
          <th class="num">Values</th>
          <th class="num">Bill {{ project?.currency }}</th>
          <th class="num">By</th>
          <th class="num">Items</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(trial, at) in trials" :key="trial.id" :class="{ chosen: trial === chosen }">
          <td>
            <NButton text class="laid" :aria-pressed="trial === chosen" @click="look(trial)">{{
              trial.name
            }}</NButton>
            <span v-if="trial.moved_on" class="bad"> the project has moved on</span>
          </td>
          <td class="num">{{ trial.changes.length }}</td>
          <td class="num">{{ effects[at]?.data ? money(effects[at].data!.bill_after) : '…' }}</td>
          <td class="num">{{ by(effects[at]?.data) }}</td>
          <td class="num">{{ effects[at]?.data?.items_moved ?? '…' }}</td>
          <td class="does">
            <template v-if="!readonly">
              <NButton text type="primary" :aria-label="`Keep ${trial.name}`" @click="keep(trial)"
                >Keep</NButton
              >
              <NButton text :aria-label="`Drop ${trial.name}`" @click="drop(trial)">Drop</NButton>
            </template>
          </td>
        </tr>
      </tbody>
    </table>
    <div class="name">
      <EntryField
        :value="chosen.name"
        :disabled="readonly"
        label="Name of the trial"
        @change="rename(chosen, $event)"
      />
      <NButton v-if="chosen.moved_on && !readonly" size="small" @click="renew(chosen)"
        >Let it stand on what is there now</NButton
      >
    </div>
    <table class="listing">
      <thead>
        <tr>
          <th>Value of</th>
          <th class="num">Stands there</th>
          <th class="num">Tried</th>
          <th></th>
          <th class="num">By itself</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(change, at) in chosen.changes" :key="change.id">
          <td>
            {{ change.called }}, {{ change.name }}
            <span v-if="change.says" class="bad says">{{ change.says }}</span>
          </td>
          <td class="num">{{ change.now }}</td>
          <td class="num tried">
            <EntryField
              number
              :value="change.value"
              :disabled="readonly"
              :label="`Tried for ${change.name} of ${change.called}`"
              @change="put(chosen, change, $event)"
            />
          </td>
          <td class="quiet">{{ change.unit }}</td>
          <td class="num">{{ by(apart[at]?.data) }}</td>
          <td class="does">
            <NButton
              v-if="!readonly"
              text
              :aria-label="`Take ${change.name} of ${change.called} out`"
              title="Take it out"
              @click="dropValue(change)"
              >×</NButton
            >
          </td>
        </tr>
      </tbody>
    </table>
    <table v-if="items.length" class="listing">
      <thead>
        <tr>
          <th>Item</th>
          <th>Moves by, {{ project?.currency }}</th>
          <th v-for="trial in trials" :key="trial.id" class="num">{{ trial.name }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="row in items.slice(0, MOST_ITEMS)" :key="row.ref">
          <td class="num ref">{{ row.ref }}</td>
          <td>{{ row.words }}</td>
          <td v-for="(moved, at) in row.by" :key="at" class="num">
            {{ moved === null ? '' : signed(moved) }}
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="items.length > MOST_ITEMS" class="quiet more">and {{ items.length - MOST_ITEMS }} more items</p>
  </div>
</template>

<style scoped>
.scroll {
  flex: 1;
}
.listing {
  margin-bottom: 14px;
}
td.ref {
  width: 60px;
  text-align: left;
}
.chosen td {
  background: var(--ground);
}
.does {
  text-align: right;
  white-space: nowrap;
}
.does button + button {
  margin-left: 12px;
}
.name {
  display: flex;
  gap: 12px;
  padding: 0 8px 8px;
  max-width: 560px;
}
.tried {
  width: 120px;
}
.says {
  display: block;
}
.more {
  padding: 0 8px 8px;
}
</style>
