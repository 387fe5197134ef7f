<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { computed, reactive } from 'vue'
import { ask, client } from '../../api/client'
import { useMakeUps, useSave } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'

const emit = defineEmits<{ close: []; made: [id: number] }>()
const { save, projectId } = useSave()
const { data: makeups } = useMakeUps()
const rules = computed(() => (makeups.value ?? []).filter((each) => each.kind === 'allowance'))
const fresh = reactive({ mark: '', rule: 'road-cleaning' })
const about = computed(() => rules.value.find((each) => each.key === fresh.rule)?.about)

async function make() {
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/allowances', {
        params: { path: { project_id: projectId.value } },
        body: fresh,
      }),
    ),
  )
  if (saved?.id) emit('made', saved.id)
}
</script>

<template>
  <Dialog title="New allowance" @close="emit('close')">
    <form class="form" @submit.prevent="make">
      <div class="field">
        <span>By the rule</span>
        <ChoiceField
          :value="fresh.rule"
          :options="rules.map((each) => ({ value: each.key, label: each.name }))"
          label="Rule"
          @choose="fresh.rule = $event"
        />
      </div>
      <p class="quiet">
        {{ about }} Rules of your own are written among the
        <RouterLink :to="`/projects/${projectId}/make-ups`">make-ups</RouterLink>: copy one, or start empty.
      </p>
      <label class="field"
        ><span>Name, short</span
        ><NInput
          v-model:value="fresh.mark"
          placeholder="RC1"
          :input-props="{ required: true, autofocus: true }"
      /></label>
      <NButton type="primary" attr-type="submit">Make it</NButton>
    </form>
  </Dialog>
</template>
