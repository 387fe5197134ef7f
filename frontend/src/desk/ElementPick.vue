<script setup lang="ts">
// Picking an element by typing: what is typed is found in the whole project, nothing is taken until it is chosen.
import { refDebounced } from '@vueuse/core'
import { NSelect } from 'naive-ui'
import { computed, ref } from 'vue'
import { useElements, useLocations } from '../api/project'

const props = defineProps<{ value: number | null; label: string; without?: number; placeholder?: string }>()
const emit = defineEmits<{ choose: [element: number | null] }>()
const select = ref<InstanceType<typeof NSelect>>()
defineExpose({ focus: () => select.value?.focusInput() })
const wanted = ref('')
const settled = refDebounced(wanted, 150)
const { data, isFetching } = useElements(settled, 50)
const { data: locations } = useLocations()
const places = computed(() => new Map(locations.value?.map((l) => [l.id, l.name])))
const options = computed(() =>
  (data.value?.pages.flatMap((page) => page.elements) ?? [])
    .filter((e) => e.id !== props.without)
    .map((e) => ({
      value: e.id,
      label: [[e.mark, e.description].filter(Boolean).join(' '), places.value.get(e.location)]
        .filter(Boolean)
        .join(', '),
    })),
)
</script>

<template>
  <span class="pick"
    ><NSelect
      ref="select"
      :value="value"
      :options="options"
      :loading="isFetching"
      :placeholder="placeholder ?? 'type a mark or a location'"
      :input-props="{ 'aria-label': label }"
      filterable
      remote
      clearable
      size="small"
      @search="wanted = $event"
      @update:value="emit('choose', $event)"
  /></span>
</template>

<style scoped>
.pick {
  display: inline-block;
  min-width: 180px;
}
</style>
