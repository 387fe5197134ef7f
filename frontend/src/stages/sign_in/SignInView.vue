<script setup lang="ts">
import { NInput } from 'naive-ui'
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSession } from '../../api/session'
import GoInForm from './GoInForm.vue'

const session = useSession()
const route = useRoute()
const router = useRouter()
const email = ref('')
const password = ref('')

async function enter() {
  await session.signIn(email.value, password.value)
  await router.replace(
    typeof route.query.to === 'string' && route.query.to.startsWith('/') ? route.query.to : '/projects',
  )
}
</script>

<template>
  <GoInForm
    words="Every number can be walked: from the bill to the drawing and the dated quote."
    button="Sign in"
    :enter="enter"
  >
    <label class="field"
      ><span>E-mail address</span
      ><NInput
        v-model:value="email"
        placeholder=""
        :input-props="{ type: 'email', autocomplete: 'username', autofocus: true, required: true }"
    /></label>
    <label class="field"
      ><span>Password</span
      ><NInput
        v-model:value="password"
        type="password"
        placeholder=""
        :input-props="{ autocomplete: 'current-password', required: true }"
    /></label>
  </GoInForm>
</template>
