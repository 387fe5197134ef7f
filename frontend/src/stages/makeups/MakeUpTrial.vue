<script setup lang="ts">
// A make-up tried while it is written: sample dimensions, its questions, what it comes to; proved at every pause.
import { useDebounceFn } from '@vueuse/core'
import { NButton, NInput } from 'naive-ui'
import { computed, reactive, ref, watch } from 'vue'
import { ask, client, Problem, type Schemas } from '../../api/client'
import { useProjectId } from '../../api/project'
import ChoiceField from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import { sentenceOf } from '../../desk/notices'
import { quantity } from '../../desk/numbers'
import { unitHere } from '../../desk/ways'
import Sketch from '../../desk/Sketch.vue'

const props = defineProps<{ source: string; readonly: boolean; writable: boolean }>()
const emit = defineEmits<{
  refused: [wrong: { sentence: string; field: string } | null]
  held: [trial: Schemas['MakeUpTrial']]
  /** A number of things came to a part of one: whether it is had whole only. */
  whole: [key: string, whole: boolean]
}>()
const project = useProjectId()
const line = reactive({ times: '1', length: '2.40', width: '1.20', height: '0.50' })
const inputs = ref<Record<string, string>>({})
const trial = ref<Schemas['MakeUpTrial'] | null>(null)
const sample = ref('')
const names = computed(() => ({
  times: 'Times',
  length: `Length ${unitHere('m')}`,
  width: `Width ${unitHere('m')}`,
  height: `Height ${unitHere('m')}`,
}))
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
    emit('held', found)
  } catch (error) {
    if (mine !== asked) return
    // What it came to before never stands under what is wrong now.
    trial.value = null
    const sentence = sentenceOf(error)
    if (error instanceof Problem && error.code === 'bad-formula')
      emit('refused', { sentence, field: error.field })
    else sample.value = sentence
  }
}, 350)
watch(
  () => props.source,
  () => {
    asked++ // what is answered of the text before is of rows that may be called otherwise by now
    void run()
  },
  { immediate: true },
)
watch([line, inputs], run, { deep: true })
const questions = computed(() => trial.value?.inputs.filter((i) => !/^(waste|pack|hand)_/.test(i.key)) ?? [])
const set = (key: string, entry: string) => (inputs.value = { ...inputs.value, [key]: entry })
</script>

<template>
  <aside class="trial scroll" aria-label="Tried on a sample">
    <h3>Tried on</h3>
    <div v-if="!trial?.allowance" class="line">
      <label v-for="(label, name) in names" :key="name"
        ><span class="quiet">{{ label }}</span
        ><NInput v-model:value="line[name]" class="num" size="small" placeholder=""
      /></label>
    </div>
    <p v-if="sample" class="bad" role="alert">{{ sample }}</p>
    <p v-else-if="!trial" class="quiet">It comes to nothing until what is wrong is put right.</p>
    <template v-if="trial">
      <Sketch :sketch="trial.sketch" />
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
        <span v-if="q.asks" class="pack asks" role="status"
          >Can part of one be had?
          <template v-if="writable">
            <NButton text type="primary" @click="emit('whole', q.key, true)">No: round each line up</NButton>
            <NButton text type="primary" @click="emit('whole', q.key, false)">Yes</NButton>
          </template></span
        >
      </p>
      <p v-for="said in trial.findings" :key="said" class="found">{{ said }}</p>
      <h3>It asks</h3>
      <template v-for="(input, at) in questions" :key="input.key">
        <h4 v-if="input.group && input.group !== questions[at - 1]?.group">{{ input.group }}</h4>
        <label class="ask" :title="input.hint">
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
h4 {
  margin: 8px 0 2px;
  font-weight: 500;
}
.asks {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 12px;
  color: var(--accent-ink);
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
