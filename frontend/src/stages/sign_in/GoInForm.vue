<script setup lang="ts">
// The form one goes in by: its fields, what was refused, and that it is busy. Where the server asks to wait, it waits
// and tries again by itself.
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { Problem } from '../../api/client'

const MOST_WAITS = 4

const props = defineProps<{ words: string; button: string; enter: () => Promise<unknown> }>()
const refused = ref('')
const busy = ref(false)

async function submit() {
  busy.value = true
  refused.value = ''
  try {
    await entered(MOST_WAITS)
  } catch (error) {
    refused.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
async function entered(waits: number): Promise<unknown> {
  try {
    return await props.enter()
  } catch (error) {
    if (!(error instanceof Problem) || !error.numbers.wait || !waits) throw error
    refused.value = `${error.sentence} It is tried again in ${Math.ceil(error.numbers.wait)} seconds.`
    await new Promise((wake) => setTimeout(wake, error.numbers.wait * 1000))
    refused.value = ''
    return entered(waits - 1)
  }
}
</script>

<template>
  <main>
    <form class="form" @submit.prevent="submit">
      <h1><img src="/wordmark.svg" alt="" width="34" height="26" /> Sand Scale</h1>
      <p class="quiet">{{ words }}</p>
      <slot></slot>
      <p v-if="refused" class="bad" role="alert">{{ refused }}</p>
      <NButton type="primary" attr-type="submit" :loading="busy">{{ button }}</NButton>
    </form>
  </main>
</template>

<style scoped>
main {
  display: grid;
  place-items: center;
  height: 100%;
}
form {
  width: 340px;
  padding: 24px;
  border: 1px solid var(--rule);
  border-top: 3px solid var(--accent);
  background: var(--panel);
}
h1 {
  display: flex;
  align-items: center;
  gap: 10px;
  font-size: 20px;
}
p {
  margin: 0;
}
</style>
