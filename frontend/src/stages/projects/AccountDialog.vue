<script setup lang="ts">
// One's own account: another password, signing out everywhere, giving it up.
import { NButton, NInput } from 'naive-ui'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { ask, client } from '../../api/client'
import { useSession } from '../../api/session'
import Dialog from '../../desk/Dialog.vue'

const emit = defineEmits<{ close: [] }>()
const session = useSession()
const router = useRouter()
const now = ref('')
const fresh = ref('')
const said = ref('')
const done = ref('')
const leaving = ref('')

async function tried(act: () => Promise<unknown>, words = '') {
  said.value = done.value = ''
  try {
    await act()
    done.value = words
  } catch (error) {
    said.value = error instanceof Error ? error.message : String(error)
  }
}
const change = () =>
  tried(async () => {
    await ask(client.POST('/api/session/password', { body: { now: now.value, new: fresh.value } }))
    now.value = fresh.value = ''
  }, 'Your password is changed; your other browsers are signed out.')
const everywhere = () =>
  tried(async () => {
    await session.signOutEverywhere()
    await router.push('/sign-in')
  })
const leave = () =>
  tried(async () => {
    await session.leave(leaving.value)
    await router.push('/sign-in')
  })
</script>

<template>
  <Dialog title="Your account" @close="emit('close')">
    <p class="who">
      {{ session.person?.name }} <span class="quiet">{{ session.person?.email }}</span>
    </p>
    <form class="form" @submit.prevent="change">
      <label class="field"
        ><span>The password you have</span
        ><NInput
          v-model:value="now"
          type="password"
          placeholder=""
          :input-props="{ autocomplete: 'current-password', required: true, autofocus: true }"
      /></label>
      <label class="field"
        ><span>The new one: several words that don’t belong together</span
        ><NInput
          v-model:value="fresh"
          type="password"
          placeholder=""
          :input-props="{ autocomplete: 'new-password', required: true }"
      /></label>
      <NButton type="primary" attr-type="submit">Change the password</NButton>
    </form>
    <p v-if="done" role="status">{{ done }}</p>
    <p v-if="said" class="bad" role="alert">{{ said }}</p>
    <h3>Elsewhere</h3>
    <NButton size="small" @click="everywhere">Sign out in every browser, this one too</NButton>
    <h3>Give the account up</h3>
    <p class="quiet">
      Projects and shelves that nobody else belongs to go with it. What you did in others’ projects stays
      there, without your name.
    </p>
    <form class="row" @submit.prevent="leave">
      <NInput
        v-model:value="leaving"
        type="password"
        size="small"
        placeholder="your password"
        :input-props="{
          autocomplete: 'off',
          required: true,
          'aria-label': 'Your password, to give the account up',
        }"
      />
      <NButton size="small" type="error" attr-type="submit" :disabled="!leaving">Give it up</NButton>
    </form>
  </Dialog>
</template>

<style scoped>
.who {
  margin: 0 0 10px;
}
h3 {
  margin: 18px 0 6px;
  color: var(--quiet);
}
.row {
  display: flex;
  gap: 8px;
}
</style>
