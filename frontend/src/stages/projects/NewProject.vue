<script setup lang="ts">
import { NButton, NInput } from 'naive-ui'
import { reactive } from 'vue'
import type { Schemas } from '../../api/client'
import DateField from '../../desk/DateField.vue'
import ChoiceField from '../../desk/ChoiceField.vue'
import Dialog from '../../desk/Dialog.vue'
import { systems, writings, type Ways } from '../../desk/ways'

defineProps<{ refused: string }>()
const emit = defineEmits<{ close: []; make: [project: Schemas['NewProject']] }>()
const fresh = reactive({
  name: '',
  client: '',
  currency: 'EUR',
  price_date: new Date().toISOString().slice(0, 10),
  unit_system: 'metric' as Ways['unit_system'],
  numbers: '' as Ways['numbers'],
})
</script>

<template>
  <Dialog title="New project" @close="emit('close')">
    <form class="form" @submit.prevent="emit('make', { ...fresh })">
      <label class="field"
        ><span>Name</span
        ><NInput v-model:value="fresh.name" placeholder="" :input-props="{ required: true, autofocus: true }"
      /></label>
      <label class="field"><span>Client</span><NInput v-model:value="fresh.client" placeholder="" /></label>
      <label class="field"
        ><span>Currency, three letters</span
        ><NInput
          v-model:value="fresh.currency"
          placeholder=""
          :maxlength="3"
          :input-props="{ required: true }"
      /></label>
      <label class="field"
        ><span>Price date: quotes are judged on this day</span
        ><DateField :value="fresh.price_date" @change="fresh.price_date = $event"
      /></label>
      <label class="field"
        ><span>Measured and billed in</span
        ><ChoiceField
          :value="fresh.unit_system"
          :options="systems"
          label="Unit system"
          @choose="fresh.unit_system = $event"
      /></label>
      <label class="field"
        ><span>Numbers are written</span
        ><ChoiceField
          :value="fresh.numbers"
          :options="writings"
          label="How numbers are written"
          @choose="fresh.numbers = $event"
      /></label>
      <p v-if="refused" class="bad" role="alert">{{ refused }}</p>
      <NButton type="primary" attr-type="submit">Make the project</NButton>
    </form>
  </Dialog>
</template>
