// Who is signed in.
import { defineStore } from 'pinia'
import { ref } from 'vue'
import { ask, client, setToken, type Schemas } from './client'

export const useSession = defineStore('session', () => {
  const person = ref<Schemas['PersonView'] | null>(null)
  const known = ref(false)
  const letters = ref(false)

  function take(view: Schemas['SessionView']): void {
    person.value = view.person
    setToken(view.csrf_token)
    letters.value = view.letters
    known.value = true
  }
  async function load(): Promise<void> {
    take(await ask(client.GET('/api/session')))
  }
  async function signIn(email: string, password: string): Promise<void> {
    take(await ask(client.POST('/api/session', { body: { email, password } })))
  }
  async function accept(token: string, name: string, password: string): Promise<void> {
    take(await ask(client.POST('/api/session/invited', { body: { token, name, password } })))
  }
  async function signOut(): Promise<void> {
    take(await ask(client.DELETE('/api/session')))
  }
  async function signOutEverywhere(): Promise<void> {
    take(await ask(client.DELETE('/api/session/everywhere')))
  }
  async function leave(password: string): Promise<void> {
    take(await ask(client.POST('/api/session/leave', { body: { password } })))
  }
  return { person, known, letters, load, signIn, accept, signOut, signOutEverywhere, leave }
})
