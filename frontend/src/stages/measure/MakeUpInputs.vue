<script setup lang="ts">
// What an element's make-up asks, in the working column's place, under its own picture with its sizes on it.
import { NButton } from 'naive-ui'
import { computed, onMounted, ref } from 'vue'
import { ask, client, type Schemas } from '../../api/client'
import { recipesOf, useMakeUps, useSave } from '../../api/project'
import ChoiceField, { asOptions } from '../../desk/ChoiceField.vue'
import EntryField from '../../desk/EntryField.vue'
import Sketch from '../../desk/Sketch.vue'

const props = defineProps<{ element: Schemas['ElementView']; readonly: boolean }>()
const emit = defineEmits<{ close: [] }>()
const { save, projectId } = useSave()
const { data: makeups } = useMakeUps()
const recipes = computed(() => recipesOf(makeups.value))
const panel = ref<HTMLElement>()
const lit = ref('')
// Waste and packs fill a screen of their own: they stand open once one was entered, or when asked for.
const isBought = (input: Schemas['InputView']) => /^(waste|pack)_/.test(input.key)
const bought = ref(props.element.inputs.some((each) => isBought(each) && each.entered))
const shown = computed(() => props.element.inputs.filter((each) => bought.value || !isBought(each)))
onMounted(() => panel.value?.querySelector<HTMLElement>('input')?.focus())

const change = (body: {
  mark?: string
  description?: string
  makeup?: string
  inputs?: Record<string, string>
}) =>
  save((version) =>
    ask(
      client.PATCH('/api/projects/{project_id}/elements/{element}', {
        params: { path: { project_id: projectId.value, element: props.element.id } },
        body: { version: version ?? props.element.version, ...body },
      }),
    ),
  )
</script>

<template>
  <section
    ref="panel"
    class="scroll make-up"
    :aria-label="`Make-up of ${element.mark}`"
    @keydown.esc.stop="emit('close')"
  >
    <div class="head">
      <h2>{{ element.mark }}, {{ element.made_by.toLowerCase() }}</h2>
      <NButton text @click="emit('close')">close <kbd>Esc</kbd></NButton>
    </div>
    <Sketch :sketch="element.sketch" :lit="lit" />
    <div class="fields">
      <label class="field"
        ><span>Mark</span
        ><EntryField :value="element.mark" :disabled="readonly" @change="change({ mark: $event })"
      /></label>
      <label class="field"
        ><span>Description</span
        ><EntryField
          :value="element.description"
          :disabled="readonly"
          @change="change({ description: $event })"
      /></label>
      <div class="field wide">
        <span>Make-up</span>
        <ChoiceField
          :value="element.makeup"
          :options="recipes"
          label="Make-up"
          :disabled="readonly"
          @choose="change({ makeup: $event })"
        />
      </div>
      <template v-for="(input, at) in shown" :key="input.key">
        <h3 v-if="input.group && input.group !== shown[at - 1]?.group" class="wide">
          {{ input.group }}
        </h3>
        <label
          class="field"
          :class="{ own: input.entered, wide: input.words && !isBought(input) }"
          :title="input.hint"
          @focusin="lit = input.key"
          @focusout="lit = ''"
        >
          <span
            >{{ input.label }}<i v-if="input.unit">&nbsp;{{ input.unit }}</i></span
          >
          <ChoiceField
            v-if="input.choices.length"
            :value="input.entry"
            :options="asOptions(input.choices)"
            :label="input.label"
            :disabled="readonly"
            @choose="change({ inputs: { [input.key]: $event } })"
          />
          <EntryField
            v-else
            :value="input.entry"
            :number="!input.words"
            :disabled="readonly"
            @change="change({ inputs: { [input.key]: $event } })"
          />
        </label>
      </template>
    </div>
    <p>
      <NButton text type="primary" :aria-expanded="bought" @click="bought = !bought">{{
        bought ? 'Fold waste and packs' : 'Waste and packs'
      }}</NButton>
    </p>
    <p v-if="bought" class="quiet">
      A waste is a percentage, or what is left of what is bought, such as 90 % yield. A pack is one like
      pallet of 60 or load of 20 t; empty, it is the make-up’s own.
    </p>
    <p class="quiet">
      {{ element.about }} Entries that differ from the make-up's own are in bold; empty one to take the
      make-up's back.
    </p>
  </section>
</template>

<style scoped>
.make-up {
  height: 100%;
  padding: 11px 16px 24px;
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  padding-right: 18px;
}
.fields {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px 12px;
}
.field {
  justify-content: end; /* a label of two lines keeps the fields of its row level */
  min-width: 0;
}
.field > span {
  line-height: 1.25;
}
.own :deep(input) {
  font-weight: 600;
}
.wide {
  grid-column: 1 / -1;
}
h3 {
  margin: 6px 0 0;
  color: var(--quiet);
}
i {
  font-style: normal;
}
</style>
