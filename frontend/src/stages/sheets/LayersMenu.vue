<script setup lang="ts">
// The layers of a sheet: each shown or hidden, all at once too.
import { NButton, NCheckbox, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSave } from '../../api/project'
import Menu from '../../desk/Menu.vue'

const props = defineProps<{ sheet: Schemas['SheetDetail']; readonly?: boolean }>()
const { save, projectId } = useSave()
const wanted = ref('')
const shown = computed(() => props.sheet.layers.filter((layer) => layer.shown).length)
const found = computed(() => {
  const words = wanted.value.trim().toLowerCase()
  return props.sheet.layers.filter((layer) => layer.name.toLowerCase().includes(words))
})

/** Show or hide some layers; the others stay as they are. */
function set(names: string[], shown: boolean) {
  return save(() =>
    ask(
      client.PUT('/api/projects/{project_id}/sheets/{sheet}/layers', {
        params: { path: { project_id: projectId.value, sheet: props.sheet.id } },
        body: { names, shown },
      }),
    ),
  )
}
const names = computed(() => found.value.map((layer) => layer.name))
</script>

<template>
  <Menu :label="`Layers ${shown} of ${sheet.layers.length}`">
    <NInput
      v-if="sheet.layers.length > 8"
      v-model:value="wanted"
      size="small"
      placeholder="Find a layer"
      :input-props="{ type: 'search', 'aria-label': 'Find a layer' }"
    />
    <p class="all">
      <NButton text :disabled="readonly" @click="set(names, true)">Show all</NButton>
      <NButton text :disabled="readonly" @click="set(names, false)">Hide all</NButton>
    </p>
    <div class="layers" tabindex="0" role="group" aria-label="Layers">
      <NCheckbox
        v-for="layer in found"
        :key="layer.name"
        :checked="layer.shown"
        :disabled="readonly"
        @update:checked="set([layer.name], $event)"
        >{{ layer.name }}</NCheckbox
      >
      <p v-if="!found.length" class="quiet">No layer by that name.</p>
    </div>
  </Menu>
</template>

<style scoped>
.all {
  display: flex;
  gap: 8px;
  margin: 0;
}
.layers {
  display: grid;
  gap: 4px;
  max-height: 320px;
  padding: 4px 6px;
  overflow-y: auto;
}
</style>
