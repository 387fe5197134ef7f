<script setup lang="ts">
import { NButton } from 'naive-ui'
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSession } from '../../api/session'

const session = useSession()
const route = useRoute()
const router = useRouter()
const email = ref('')
const password = ref('')
const refused = ref('')
const busy = ref(false)

async function enter() {
  busy.value = true
  refused.value = ''
  try {
    await session.signIn(email.value, password.value)
    const to = typeof route.query.to === 'string' && route.query.to.startsWith('/') ? route.query.to : '/projects'
    await router.replace(to)
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
      <p class="quiet">Every number can be walked: from the bill to the drawing and the dated quote.</p>
      <label class="field"
        ><span>E-mail address</span><input v-model="email" type="email" autocomplete="username" autofocus required
      /></label>
      <label class="field"
        ><span>Password</span><input v-model="password" type="password" autocomplete="current-password" required
      /></label>
      <p v-if="refused" class="bad" role="alert">{{ refused }}</p>
      <NButton type="primary" attr-type="submit" :loading="busy">Sign in</NButton>
    </form>
  </main>
</template>

<style scoped src="./sign-in.css"></style>
