<script setup lang="ts">
// A make-up tried while it is written: sample dimensions, its questions, what it comes to; proved at every pause.
import { useDebounceFn } from '@vueuse/core'
import { NInput } from 'naive-ui'
import { reactive, ref, watch } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { useProjectId } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { sentenceOf } from '../../desk/notices'
import { quantity } from '../../desk/numbers'
import Sketch from './Sketch.vue'

const props = defineProps<{ source: string; readonly: boolean }>()
const emit = defineEmits<{ refused: [sentence: string | null] }>()
const project = useProjectId()
const line = reactive({ times: '1', length: '2.40', width: '1.20', height: '0.50' })
const inputs = ref<Record<string, string>>({})
const trial = ref<Schemas['MakeUpTrial'] | null>(null)
const sample = ref('')
const names = { times: 'Times', length: 'Length m', width: 'Width m', height: 'Height m' } as const
let asked = 0

const run = useDebounceFn(async () => {
  if (props.readonly || !props.source) return
  const mine = ++asked
  try {
    const found = await ask(
      client.POST('/api/projects/{project_id}/makeups/trial', {
        params: { path: { project_id: project.value } },
        body: { source: props.source, inputs: inputs.value, line: { ...line } },
      }),
    )
    if (mine !== asked) return
    trial.value = found
    sample.value = ''
    emit('refused', null)
  } catch (error) {
    if (mine !== asked) return
    const sentence = sentenceOf(error)
    const about = /formula|make-up|derived|output|caution|unit|choice|default|part|band/i.test(sentence)
    if (about) emit('refused', sentence)
    else sample.value = sentence
  }
}, 350)
watch(() => props.source, run, { immediate: true })
watch([line, inputs], run, { deep: true })
const set = (key: string, entry: string) => (inputs.value = { ...inputs.value, [key]: entry })
</script>

<template>
  <aside class="trial scroll" aria-label="Tried on a sample">
    <h3>Tried on</h3>
    <div class="line">
      <label v-for="(label, name) in names" :key="name"
        ><span class="quiet">{{ label }}</span
        ><NInput v-model:value="line[name]" class="num" size="small" placeholder=""
      /></label>
    </div>
    <p v-if="sample" class="bad" role="alert">{{ sample }}</p>
    <template v-if="trial">
      <p
        v-for="q in trial.quantities"
        :key="q.label"
        class="quantity"
        :title="q.waste ? `${quantity(q.gross, q.unit)} with ${q.waste} % waste` : ''"
      >
        <span>{{ q.label }}</span>
        <span class="num"
          >{{ quantity(q.net, q.unit) }} <span class="quiet">{{ q.unit }}</span></span
        >
        <span v-if="q.pack" class="pack quiet">{{ q.pack }}</span>
      </p>
      <p v-for="said in trial.findings" :key="said" class="found">{{ said }}</p>
      <Sketch :sketch="trial.sketch" />
      <h3>It asks</h3>
      <label
        v-for="input in trial.inputs.filter((i) => !i.key.startsWith('waste_'))"
        :key="input.key"
        class="ask"
        :title="input.hint"
      >
        <span class="quiet">{{ input.label }} {{ input.unit }}</span>
        <ChoiceField
          v-if="input.choices.length"
          :value="input.entry"
          :options="input.choices.map((choice) => ({ value: choice, label: choice }))"
          :label="input.label"
          @choose="set(input.key, $event)"
        />
        <EntryField v-else :value="input.entry" @change="set(input.key, $event)" />
      </label>
    </template>
  </aside>
</template>

<style scoped>
.trial {
  padding: 10px 12px;
  border-left: 1px solid var(--rule);
}
h3 {
  margin: 8px 0 4px;
  color: var(--quiet);
}
.line {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px 8px;
}
.line label,
.ask {
  display: grid;
}
input,
select {
  width: 100%;
  height: 26px;
  padding: 0 6px;
  border: 1px solid var(--rule);
  background: var(--panel);
}
.quantity {
  display: grid;
  grid-template-columns: 1fr auto;
  margin: 0;
  padding: 3px 0;
  border-bottom: 1px solid var(--rule);
}
.pack {
  grid-column: 1 / -1;
}
.found {
  margin: 4px 0;
  color: var(--accent-ink);
}
:deep(.sketch svg) {
  width: 100%;
  height: auto;
}
</style>
