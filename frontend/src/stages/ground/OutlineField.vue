<script setup lang="ts">
// An outline on the plan: drawn there, or typed corner by corner.
import { NButton, NInput } from 'naive-ui'
import { computed, ref } from 'vue'
import Dialog from '../../desk/Dialog.vue'
import { lengthHere, unitHere } from '../../desk/ways'
import type { Corners } from './earth'
import { areaShown } from './units'

const props = defineProps<{
  of: string
  outline: (number | null)[][]
  readonly: boolean
  drawing: boolean
  /** What stands where there is none. */
  none: string
  levels?: boolean
}>()
const emit = defineEmits<{ draw: []; change: [corners: Corners] }>()
const typing = ref(false)
const text = ref('')
const area = computed(() => {
  const at = props.outline
  let twice = 0
  for (let n = 0; n < at.length; n++) {
    const [a, b] = [at[n], at[(n + 1) % at.length]]
    twice += (a[0] ?? 0) * (b[1] ?? 0) - (b[0] ?? 0) * (a[1] ?? 0)
  }
  return Math.abs(twice) / 2
})
const written = (value: number | null) => (value === null ? '' : String(+lengthHere(value).toFixed(3)))
function type() {
  text.value = props.outline
    .map((c) => (props.levels ? c : c.slice(0, 2)).map(written).join('\t').trimEnd())
    .join('\n')
  typing.value = true
}
function keep() {
  const rows = text.value.split('\n').filter((row) => row.trim())
  emit('change', rows.map((row) => row.trim().split(/\t|;|\s{2,}|\s+(?=[-\d])/).map((cell) => cell.trim()).slice(0, 3))) // prettier-ignore
  typing.value = false
}
</script>

<template>
  <span class="outline">
    <span v-if="outline.length" class="num"
      >{{ outline.length }} corners, {{ areaShown(area) }} {{ unitHere('m²') }}</span
    >
    <span v-else class="quiet">{{ none }}</span>
    <template v-if="!readonly">
      <NButton text type="primary" :title="`Draw the outline of ${of} on the plan`" @click="emit('draw')">{{
        drawing ? 'drawing…' : 'draw'
      }}</NButton>
      <NButton text type="primary" :title="`Type the corners of ${of}`" @click="type">type</NButton>
      <NButton v-if="outline.length" text @click="emit('change', [])">none</NButton>
    </template>
    <Dialog v-if="typing" :title="`Corners of ${of}`" @close="typing = false">
      <p class="quiet">
        A corner a row: easting, northing{{ levels ? ', level (or none: the formation’s)' : '' }}, in
        {{ unitHere('m') }}.
      </p>
      <NInput
        v-model:value="text"
        type="textarea"
        :rows="8"
        :input-props="{ 'aria-label': `Corners of ${of}`, style: 'font-family: var(--mono)' }"
      />
      <p><NButton type="primary" @click="keep">Take these corners</NButton></p>
    </Dialog>
  </span>
</template>

<style scoped>
.outline {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 3px 9px;
}
</style>
