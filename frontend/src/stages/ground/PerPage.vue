<script setup lang="ts">
// How many sections stand on a page of a paper.
import ChoiceField from '../../desk/ChoiceField.vue'

const number = defineModel<number>({ required: true })
const NUMBERS = [1, 2, 3, 4, 6, 8].map((n) => ({ value: n, label: String(n) }))
</script>

<template>
  <label class="page">
    Sections on a page
    <ChoiceField :value="number" :options="NUMBERS" label="Sections on a page" @choose="number = $event" />
  </label>
</template>

<style scoped>
.page {
  display: grid;
  grid-template-columns: 1fr 90px;
  align-items: center;
  padding-bottom: 10px;
}
</style>
