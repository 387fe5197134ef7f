// A cell of a form that waits for its number: one walks through the stages, and ties what stands in the working
// column.
import { defineStore } from 'pinia'
import { ref } from 'vue'

export interface Waiting {
  project: number
  form: number
  name: string
  place: string
}
export const useTying = defineStore('tying', () => ({ waiting: ref<Waiting | null>(null) }))
