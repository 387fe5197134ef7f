<script setup lang="ts">
// What a stage holds, in groups, found as one types.
import { useInfiniteScroll } from '@vueuse/core'
import { NButton, NInput } from 'naive-ui'
import { computed, nextTick, ref } from 'vue'
import EntryField from './EntryField.vue'

export interface Entry {
  id: number | string
  mark?: string
  name: string
  value?: string
  unit?: string
  to: string
  warn?: boolean
  /** How deep it lies within those before it. */
  level?: number
}
export interface Group {
  key: string | number
  title: string
  entries: Entry[]
  empty?: string
}

const props = defineProps<{
  find: string
  groups: Group[]
  /** Whether what it holds is still on its way: what stands below it comes with it, and stays in its place. */
  waits?: boolean
  chosen: number | string | null
  /** Whether what is wanted is found elsewhere, as it is where only a window of the list is here. */
  elsewhere?: boolean
  /** Whether the groups can be called something else. */
  renames?: boolean
  /** Whether an entry can be dragged to where another stands. */
  arranges?: boolean
}>()
const emit = defineEmits<{
  more: []
  rename: [group: string | number, title: string]
  put: [entry: number | string, onto: number | string]
}>()
const dragged = ref<number | string | null>(null)
const over = ref<number | string | null>(null)
function drop(onto: number | string) {
  const entry = dragged.value
  dragged.value = over.value = null
  if (entry !== null && entry !== onto) emit('put', entry, onto)
}
const renaming = ref<string | number | null>(null)
async function rename(group: string | number, title: string) {
  emit('rename', group, title)
  renaming.value = null
  await nextTick()
  list.value?.querySelector<HTMLElement>(`[data-group="${group}"]`)?.focus()
}
const wanted = defineModel<string>('wanted', { default: '' })
const list = ref<HTMLElement>()
useInfiniteScroll(list, () => emit('more'), { distance: 300, interval: 200 })
const found = computed(() => {
  const words = wanted.value.trim().toLowerCase()
  if (props.waits) return []
  if (!words) return props.groups
  return props.groups
    .map((group) => ({
      ...group,
      entries: group.entries.filter(
        (e) => props.elsewhere || `${e.mark ?? ''} ${e.name}`.toLowerCase().includes(words),
      ),
    }))
    .filter((group) => group.entries.length)
})
</script>

<template>
  <NInput
    v-model:value="wanted"
    class="find"
    size="small"
    clearable
    :placeholder="find"
    :input-props="{ type: 'search', 'aria-label': find }"
  />
  <div ref="list" class="scroll">
    <section v-for="group in found" :key="group.key">
      <h3>
        <EntryField
          v-if="renaming === group.key"
          asked
          :value="group.title"
          :label="`Name of ${group.title}`"
          @change="rename(group.key, $event)"
          @left="renaming = null"
        />
        <NButton
          v-else-if="renames"
          text
          class="laid title"
          :data-group="group.key"
          title="Call it something else"
          @click="renaming = group.key"
        >
          {{ group.title }}
        </NButton>
        <span v-else>{{ group.title }}</span>
        <slot name="group" :group="group" />
      </h3>
      <RouterLink
        v-for="entry in group.entries"
        :key="entry.id"
        :to="entry.to"
        :class="{ chosen: entry.id === chosen, marked: entry.mark, over: entry.id === over }"
        :draggable="arranges || undefined"
        :title="entry.name"
        :style="entry.level ? { paddingLeft: `${9 + entry.level * 12}px` } : undefined"
        @dragstart="dragged = entry.id"
        @dragover="dragged !== null && ((over = entry.id), $event.preventDefault())"
        @dragend="dragged = over = null"
        @drop.prevent="drop(entry.id)"
      >
        <b v-if="entry.mark">{{ entry.mark }}</b>
        <span class="name" :class="{ warn: entry.warn }">{{ entry.name }}</span>
        <span v-if="entry.value" class="num"
          >{{ entry.value }} <span class="quiet">{{ entry.unit }}</span></span
        >
      </RouterLink>
      <p v-if="!group.entries.length" class="quiet nothing">{{ group.empty ?? 'nothing yet' }}</p>
    </section>
    <template v-if="!waits">
      <p v-if="!found.length && wanted" class="quiet nothing">Nothing by that name.</p>
      <slot />
    </template>
  </div>
</template>

<style scoped>
.find {
  flex: none;
  width: auto;
  margin: 6px 26px 6px 12px;
}
.scroll {
  flex: 1;
  padding-bottom: 16px;
}
h3 {
  display: flex;
  justify-content: space-between;
  padding: 9px 12px 4px;
  color: var(--quiet);
}
.title {
  font-weight: 600;
}
a {
  display: flex;
  align-items: center;
  gap: 8px;
  height: var(--row);
  padding: 0 12px 0 9px;
  border-left: 3px solid transparent;
  color: var(--ink);
  text-decoration: none;
}
a:hover {
  background: #f3eee4;
}
a.over {
  box-shadow: inset 0 2px var(--accent);
}
a.chosen {
  border-left-color: var(--accent);
  background: var(--panel);
  box-shadow:
    0 1px var(--rule),
    0 -1px var(--rule);
}
b {
  flex: 0 0 42px;
  font-weight: 600;
  overflow: hidden;
  text-overflow: ellipsis;
}
.name {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.warn {
  color: var(--accent-ink);
}
.nothing {
  margin: 0;
  padding: 4px 12px;
}
</style>
