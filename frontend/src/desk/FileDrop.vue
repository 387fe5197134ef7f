<script setup lang="ts">
// A file brought in: chosen, or dropped here.
import { NUpload, NUploadDragger, type UploadSettledFileInfo } from 'naive-ui'

defineProps<{ accept: string; test: string; area?: boolean }>()
const emit = defineEmits<{ chosen: [file: File] }>()
/** Taken at once; the list of files Naive would keep is not needed. */
function take({ file }: { file: UploadSettledFileInfo }): boolean {
  if (file.file) emit('chosen', file.file)
  return false
}
</script>

<template>
  <NUpload
    class="drop"
    :accept="accept"
    :show-file-list="false"
    :input-props="{ 'data-test': test } as object"
    @before-upload="take"
  >
    <NUploadDragger v-if="area"><slot /></NUploadDragger>
    <slot v-else />
  </NUpload>
</template>

<style scoped>
.drop {
  width: auto;
}
</style>
