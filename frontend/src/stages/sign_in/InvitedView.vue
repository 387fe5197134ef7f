<script setup lang="ts">
// Taking an invitation up: a name and a password make the account it was for.
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSession } from '../../api/session'

const session = useSession()
const route = useRoute()
const router = useRouter()
const name = ref('')
const password = ref('')
const refused = ref('')
const busy = ref(false)

async function enter() {
  busy.value = true
  refused.value = ''
  try {
    await session.accept(String(route.params.token), name.value, password.value)
    await router.replace('/projects')
  } catch (error) {
    refused.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main>
    <form class="form" @submit.prevent="enter">
      <h1><img src="/wordmark.svg" alt="" width="34" height="26" /> Sand Scale</h1>
      <p class="quiet">You are invited into a project. Say who you are and choose a password of ten characters or more.</p>
      <label class="field"><span>Your name</span><input v-model="name" autocomplete="name" autofocus required /></label>
      <label class="field"><span>Password</span><input v-model="password" type="password" autocomplete="new-password" required /></label>
      <p v-if="refused" class="bad" role="alert">{{ refused }}</p>
      <NButton type="primary" attr-type="submit" :loading="busy">Go in</NButton>
    </form>
  </main>
</template>

<style scoped src="./sign-in.css"></style>
