// Sentences shown to the person: refusals, and clashes and numbers that wait for a decision.
import { defineStore } from 'pinia'
import { ref } from 'vue'
import { Problem } from '../api/client'
import type { Ways } from './ways'

const UNFINISHED = new Problem('The page could not finish this.', 'Reload it; everything saved is safe.')

function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error
  console.error(error)
  return UNFINISHED
}
/** What a refusal says, with its remedy. */
export const sentenceOf = (error: unknown): string => problemOf(error).message

export const useNotices = defineStore('notices', () => {
  const notice = ref<{ sentence: string; remedy: string } | null>(null)
  const clash = ref<Problem | null>(null)
  const unsure = ref<Problem | null>(null)
  let told: ((numbers: Ways['numbers'] | null) => void) | null = null
  let answer: ((mine: boolean | null) => void) | null = null

  function show(error: unknown): void {
    notice.value = problemOf(error)
  }
  function clear(): void {
    notice.value = null
  }
  /** Ask whether to write one's own value over another person's; null where that is left open. */
  function decide(problem: Problem): Promise<boolean | null> {
    clash.value = problem
    return new Promise((resolve) => (answer = resolve))
  }
  /** A number was typed that can be two: which one it is; null where that is left open. */
  function which(problem: Problem): Promise<Ways['numbers'] | null> {
    unsure.value = problem
    return new Promise((resolve) => (told = resolve))
  }
  function said(numbers: Ways['numbers'] | null): void {
    unsure.value = null
    told?.(numbers)
    told = null
  }
  function decided(mine: boolean | null): void {
    clash.value = null
    answer?.(mine)
    answer = null
  }
  return { notice, clash, unsure, show, clear, decide, decided, which, said }
})
