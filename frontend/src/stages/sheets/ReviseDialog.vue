<script setup lang="ts">
// A drawing's next revision: its file, and what it is called.
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { sendFile, type Schemas } from '../../api/client'
import { useProjectId } from '../../api/project'
import Dialog from '../../desk/Dialog.vue'
import EntryField from '../../desk/EntryField.vue'
import FileDrop from '../../desk/FileDrop.vue'
import JobProgress from '../../desk/JobProgress.vue'
import { useJob } from '../../desk/job'
import { ACCEPTED } from './accepted'

const props = defineProps<{ drawing: Schemas['DrawingView'] }>()
const emit = defineEmits<{ close: []; done: [] }>()
const project = useProjectId()
const letter = ref('')
const { job, begin, stop } = useJob(() => emit('done'))

function send(file: File) {
  const form = new FormData()
  form.append('file', file)
  form.append('letter', letter.value)
  void begin(() =>
    sendFile<Schemas['JobView']>(
      `/api/projects/${project.value}/drawings/${props.drawing.id}/revisions`,
      form,
    ),
  )
}
</script>

<template>
  <Dialog :title="`Next revision of ${drawing.number}`" @close="emit('close')">
    <p class="quiet">
      It is laid over revision {{ drawing.letter }} by its own lines. What is measured goes over to it; what
      lies near a change is marked until someone has looked at it. Revision {{ drawing.letter }} stays to be
      seen.
    </p>
    <label class="letter"
      >Called
      <EntryField
        :value="letter"
        label="What the revision is called"
        placeholder="the next letter"
        @change="letter = $event"
      />
    </label>
    <JobProgress v-if="job" :job="job" @stop="stop" />
    <FileDrop v-else :accept="ACCEPTED" test="revision-file" area @chosen="send">
      <p>Drop its PDF, DXF or picture here, or</p>
      <NButton type="primary">Choose the file</NButton>
    </FileDrop>
  </Dialog>
</template>

<style scoped>
.letter {
  display: flex;
  align-items: center;
  gap: 10px;
  margin-bottom: 12px;
}
.letter :deep(.n-input) {
  width: 150px;
}
p {
  margin: 0 0 10px;
}
</style>
