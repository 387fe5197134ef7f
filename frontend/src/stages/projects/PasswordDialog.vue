<script setup lang="ts">
// Another password for oneself; one's other browsers are signed out by it.
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { ask, client, Problem } from '../../api/client'
import Dialog from '../../desk/Dialog.vue'

const emit = defineEmits<{ close: [] }>()
const now = ref('')
const fresh = ref('')
const said = ref('')

async function change() {
  said.value = ''
  try {
    await ask(client.POST('/api/session/password', { body: { now: now.value, new: fresh.value } }))
    emit('close')
  } catch (error) {
    said.value = error instanceof Problem ? error.message : 'Nothing was changed; try again.'
  }
}
</script>

<template>
  <Dialog title="Change your password" @close="emit('close')">
    <form class="form" @submit.prevent="change">
      <label class="field"
        ><span>The password you have</span
        ><input v-model="now" type="password" autocomplete="current-password" required autofocus
      /></label>
      <label class="field"
        ><span>The new one, ten characters or more</span
        ><input v-model="fresh" type="password" autocomplete="new-password" required minlength="10"
      /></label>
      <p class="quiet">Your other browsers are signed out by it.</p>
      <p v-if="said" class="bad" role="alert">{{ said }}</p>
      <NButton type="primary" attr-type="submit">Change it</NButton>
    </form>
  </Dialog>
</template>
