<script setup lang="ts">
// A new enquiry: what is priced, and who is asked; suppliers there aren't yet are typed.
import { NButton, NInput, NSelect } from 'naive-ui'
import { computed, reactive, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useSuppliers } from '../../api/prices'
import { useSave } from '../../api/project'
import DateField from '../../desk/DateField.vue'
import Dialog from '../../desk/Dialog.vue'

const props = defineProps<{ resources: Schemas['ResourceView'][]; chosen: number | null }>()
const emit = defineEmits<{ close: []; made: [id: number] }>()
const { save, projectId } = useSave()
const { data: suppliers } = useSuppliers()
const asked = ref<number[]>(props.chosen ? [props.chosen] : [])
const whom = ref<number[]>([])
const fresh = reactive({ name: '', email: '' })
const title = ref('')
const answerBy = ref('')
const at = computed(() => ({ params: { path: { project_id: projectId.value } } }))
/** What lacks a valid price, or is priced by one quote alone, is asked for first. */
const thin = computed(() =>
  props.resources
    .filter(
      (r) => r.used_in && r.kind !== 'labour' && r.quotes.filter((q) => q.validity === 'valid').length < 2,
    )
    .map((r) => r.id),
)
async function addSupplier() {
  const saved = await save(() =>
    ask(client.POST('/api/projects/{project_id}/suppliers', { ...at.value, body: { ...fresh } })),
  )
  if (!saved?.id) return
  whom.value = [...whom.value, saved.id]
  Object.assign(fresh, { name: '', email: '' })
}
async function make() {
  if (fresh.name) await addSupplier()
  const saved = await save(() =>
    ask(
      client.POST('/api/projects/{project_id}/enquiries', {
        ...at.value,
        body: {
          resources: asked.value,
          suppliers: whom.value,
          title: title.value,
          answer_by: answerBy.value || null,
          words: '',
        },
      }),
    ),
  )
  if (saved?.id) emit('made', saved.id)
}
</script>

<template>
  <Dialog title="New enquiry" wide @close="emit('close')">
    <form class="form" @submit.prevent="make">
      <div class="field">
        <span>What is priced</span>
        <NSelect
          v-model:value="asked"
          multiple
          filterable
          max-tag-count="responsive"
          :options="resources.map((r) => ({ value: r.id, label: `${r.name}, ${r.unit}` }))"
          placeholder="resources"
          :input-props="{ 'aria-label': 'What is priced' }"
        />
        <NButton v-if="thin.length" text class="thin" @click="asked = thin"
          >the {{ thin.length }} with fewer than two valid quotes</NButton
        >
      </div>
      <div class="field">
        <span>Who is asked</span>
        <NSelect
          v-model:value="whom"
          multiple
          filterable
          :options="(suppliers ?? []).map((s) => ({ value: s.id, label: s.name }))"
          placeholder="suppliers"
          :input-props="{ 'aria-label': 'Who is asked' }"
        />
        <span class="pair">
          <NInput
            v-model:value="fresh.name"
            size="small"
            placeholder="another supplier"
            :input-props="{ 'aria-label': 'Name of another supplier' }"
          />
          <NInput
            v-model:value="fresh.email"
            size="small"
            placeholder="their e-mail address"
            :input-props="{ 'aria-label': 'E-mail address of another supplier', type: 'email' }"
          />
          <NButton size="small" :disabled="!fresh.name" @click="addSupplier">Add</NButton>
        </span>
      </div>
      <label class="field"
        ><span>What it is for</span
        ><NInput v-model:value="title" placeholder="" :input-props="{ maxlength: 200 }"
      /></label>
      <label class="field"
        ><span>Answers by</span
        ><DateField :value="answerBy" placeholder="any day" @change="answerBy = $event"
      /></label>
      <p class="quiet">It asks for what the bill needs of each. You look at it before it is sent.</p>
      <NButton type="primary" attr-type="submit" :disabled="!asked.length">Make it</NButton>
    </form>
  </Dialog>
</template>

<style scoped>
.form {
  grid-template-columns: minmax(0, 1fr);
}
.thin {
  align-self: flex-start;
}
.pair {
  display: flex;
  gap: 6px;
}
</style>
