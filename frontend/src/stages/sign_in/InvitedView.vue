<script setup lang="ts">
// Taking an invitation up: a name and a password make the account it was for.
import { NInput } from 'naive-ui'
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSession } from '../../api/session'
import GoInForm from './GoInForm.vue'

const session = useSession()
const route = useRoute()
const router = useRouter()
const name = ref('')
const password = ref('')

async function enter() {
  await session.accept(String(route.params.token), name.value, password.value)
  await router.replace('/projects')
}
</script>

<template>
  <GoInForm
    words="You are invited into a project. Say who you are and choose a password: several words that don’t belong together are a good one."
    button="Go in"
    :enter="enter"
  >
    <label class="field"
      ><span>Your name</span
      ><NInput
        v-model:value="name"
        placeholder=""
        :input-props="{ autocomplete: 'name', autofocus: true, required: true }"
    /></label>
    <label class="field"
      ><span>Password</span
      ><NInput
        v-model:value="password"
        type="password"
        placeholder=""
        :input-props="{ autocomplete: 'new-password', required: true }"
    /></label>
    <p class="quiet">
      Do you have an account? <RouterLink to="/sign-in">Sign in</RouterLink>: the invitation waits there.
    </p>
  </GoInForm>
</template>
