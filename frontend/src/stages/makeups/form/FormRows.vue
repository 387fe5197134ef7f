<script setup lang="ts" generic="R extends object">
// The rows of one table of a make-up: each told in a line, the open one with its fields. They are put in
// order, added and taken out.
import { NButton } from 'naive-ui'
import { nextTick, ref, watch } from 'vue'
import { useForm } from './form'

const props = defineProps<{
  rows: R[]
  /** What a row says of itself while it is closed: its words, and what is quiet beside them. */
  told: (row: R) => [words: string, beside: string]
  make: () => R
  add: string
  /** The row that is wrong, and why. */
  wrong: { at: number; says: string } | null
}>()
const { readonly } = useForm()
const open = ref(-1)
const list = ref<HTMLElement>()
watch(
  () => props.wrong?.at,
  (at) => {
    if (at !== undefined && at >= 0 && open.value < 0) open.value = at
  },
  { immediate: true },
)
async function show(at: number) {
  open.value = open.value === at ? -1 : at
  await nextTick()
  if (open.value === at) list.value?.querySelector<HTMLElement>('.fields input')?.focus()
}
function another() {
  // eslint-disable-next-line vue/no-mutating-props -- the document is edited in place by its form
  props.rows.push(props.make())
  open.value = -1
  void show(props.rows.length - 1)
}
function move(at: number, by: number) {
  // eslint-disable-next-line vue/no-mutating-props
  props.rows.splice(at + by, 0, ...props.rows.splice(at, 1))
  if (open.value === at) open.value = at + by
  else if (open.value === at + by) open.value = at
}
function drop(at: number) {
  // eslint-disable-next-line vue/no-mutating-props
  props.rows.splice(at, 1)
  open.value = -1
  void nextTick(() => list.value?.querySelector<HTMLElement>('.row-head, .another')?.focus())
}
</script>

<template>
  <div ref="list" class="rows">
    <section
      v-for="(row, at) in rows"
      :key="at"
      class="row"
      :class="{ refused: wrong?.at === at, open: open === at }"
    >
      <div class="line">
        <NButton text class="laid row-head" :aria-expanded="open === at" @click="show(at)">
          <span>{{ told(row)[0] || 'not named yet' }}</span>
          <span class="quiet beside">{{ told(row)[1] }}</span>
        </NButton>
        <template v-if="!readonly">
          <NButton
            text
            :disabled="at === 0"
            :aria-label="`Put ${told(row)[0]} earlier`"
            @click="move(at, -1)"
          >
            ↑
          </NButton>
          <NButton
            text
            :disabled="at === rows.length - 1"
            :aria-label="`Put ${told(row)[0]} later`"
            @click="move(at, 1)"
          >
            ↓
          </NButton>
          <NButton text :aria-label="`Take ${told(row)[0]} out`" @click="drop(at)">×</NButton>
        </template>
      </div>
      <div v-if="open === at" class="fields"><slot :row="row" :at="at" /></div>
      <!-- Below the fields: what is said of them doesn’t move them. -->
      <p v-if="wrong?.at === at" class="says" role="alert">{{ wrong.says }}</p>
    </section>
    <p v-if="!readonly" class="add">
      <NButton size="small" class="another" @click="another">{{ add }}</NButton>
    </p>
  </div>
</template>

<style scoped>
.row {
  border-bottom: 1px solid var(--rule);
}
.line {
  display: flex;
  align-items: center;
  gap: 4px;
  min-height: 28px;
}
.row-head {
  display: grid;
  grid-template-columns: minmax(110px, 220px) minmax(0, 1fr);
  flex: 1;
  gap: 12px;
  min-width: 0;
  padding: 4px 0;
  text-align: left;
}
.open .row-head > :first-child {
  font-weight: 600;
}
.beside {
  overflow: hidden;
  font-family: var(--mono);
  font-size: 12px;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.refused .line {
  box-shadow: inset 3px 0 var(--bad);
  padding-left: 10px;
}
.says {
  margin: 0;
  padding: 2px 10px 6px;
  color: var(--bad);
}
.fields {
  display: grid;
  grid-template-columns: repeat(12, minmax(0, 1fr));
  align-items: end;
  gap: 8px 10px;
  padding: 4px 0 14px;
}
.add {
  margin: 8px 0;
}
</style>
