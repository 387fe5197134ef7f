// The bottom strip: the bill total, what it has moved since the project was opened, and whether all is saved.
import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'

interface Opened {
  total: number
  at: string
}

export const useTally = defineStore('tally', () => {
  const total = ref(0)
  const opened = ref<Opened | null>(null)
  const writing = ref(0)
  const lastLabel = ref('')
  const lastChange = ref(0)
  const heardChange = ref(0)
  const online = ref(true)
  /** Whether something shown is being worked out: word of it is asked for more often. */
  const awaiting = ref(false)
  const selected = ref<{ label: string; value: string; unit: string }[]>([])

  /** What the total stood at when this tab first opened the project. */
  function open(project: number, billTotal: string): void {
    lastChange.value = heardChange.value = 0
    lastLabel.value = ''
    selected.value = []
    const key = `opened:${project}`
    const kept = sessionStorage.getItem(key)
    total.value = Number(billTotal)
    opened.value = kept
      ? (JSON.parse(kept) as Opened)
      : { total: total.value, at: new Date().toTimeString().slice(0, 5) }
    if (!kept) sessionStorage.setItem(key, JSON.stringify(opened.value))
  }
  /** Nothing of a project is told of once it is left. */
  function close(): void {
    total.value = lastChange.value = heardChange.value = 0
    opened.value = null
    lastLabel.value = ''
    selected.value = []
  }
  function begin(): void {
    writing.value += 1
  }
  function end(): void {
    writing.value -= 1
  }
  /** What an answer says; not where a later one came in before it. */
  function moved(saved: Schemas['Answer']): void {
    if (saved.change && saved.change < Math.max(lastChange.value, heardChange.value)) return
    total.value = Number(saved.bill_total)
    lastLabel.value = saved.label
    lastChange.value = Math.max(lastChange.value, saved.change ?? 0)
  }
  /** What was done elsewhere; told where it was someone else's. */
  function heard(change: number, label: string | null, billTotal: number): void {
    if (change < lastChange.value) return
    heardChange.value = change
    if (label !== null) lastLabel.value = label
    total.value = billTotal
  }
  /** Whether the server answers. */
  function reached(answers: boolean): void {
    online.value = answers
  }
  const movement = computed(() => (opened.value ? total.value - opened.value.total : 0))
  return {
    total,
    opened,
    writing,
    lastLabel,
    lastChange,
    heardChange,
    awaiting,
    online,
    selected,
    movement,
    open,
    close,
    begin,
    end,
    moved,
    heard,
    reached,
  }
})
