import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'

import {
  api,
  problemOf,
  type Plan,
  type Problem,
  type RangeAnswer,
  type WeekAnswer,
} from '@/api/client'

const SEEDS = 8
const RETRY_MS = 1500
/** The picture is drawn first; the other weeks would take the processor from it. */
const RANGE_AFTER_MS = 120

interface Wish {
  plan: Plan
  pool: string
  saved: boolean
  /** Whether the range over several seeds is wanted too (not while a gesture lasts). */
  range: boolean
}

/**
 * Keeps the picture up with the plan: one request at a time, always for the newest wish, older
 * answers dropped. Without the server it tries again until it is back.
 */
export const useSimulation = defineStore('simulation', () => {
  const week = shallowRef<WeekAnswer | null>(null)
  const range = shallowRef<RangeAnswer | null>(null)
  const problem = shallowRef<Problem | null>(null)
  const busy = ref(false)
  /** Counts answers, for those who measure how long an edit takes to show. */
  const answered = ref(0)

  const tab = crypto.randomUUID()
  let edit = 0
  let wish: Wish | null = null
  let running = false
  let retry: ReturnType<typeof setTimeout> | undefined
  let later: ReturnType<typeof setTimeout> | undefined

  function ask(next: Wish): void {
    wish = next
    edit += 1
    clearTimeout(later)
    if (!running) void drain()
  }

  function forget(): void {
    wish = null
    week.value = null
    range.value = null
    problem.value = null
    clearTimeout(retry)
    clearTimeout(later)
  }

  async function drain(): Promise<void> {
    running = true
    busy.value = true
    clearTimeout(retry)
    while (wish) {
      const current: Wish = wish
      wish = null
      const number = edit
      if (!(await askWeek(current, number))) break
      if (current.range && !wish) {
        later = setTimeout(() => void askRange(current, number), RANGE_AFTER_MS)
      }
    }
    running = false
    busy.value = false
  }

  function bodyOf(current: Wish, number: number) {
    return {
      plan: current.plan as unknown as Record<string, never>,
      pool: current.pool,
      tab,
      edit: number,
      saved: current.saved,
    }
  }

  /** Returns false where the server is gone: the wish is kept and tried again. */
  async function askWeek(current: Wish, number: number): Promise<boolean> {
    const answer = await api
      .POST('/api/simulations/week', { body: bodyOf(current, number) })
      .catch(() => null)
    if (answer?.data) {
      if (answer.data.edit >= (week.value?.edit ?? 0) || answer.data.pool !== week.value?.pool) {
        week.value = answer.data
        range.value = null
        problem.value = null
        answered.value += 1
      }
      return true
    }
    if (answer?.response.status === 204) return true // superseded by a newer edit
    const failed = problemOf(answer?.error)
    problem.value = failed
    if (failed.status === 0 || failed.status >= 500) {
      wish ??= current
      retry = setTimeout(() => void drain(), RETRY_MS)
      return false
    }
    return true
  }

  async function askRange(current: Wish, number: number): Promise<void> {
    const answer = await api
      .POST('/api/simulations/range', { body: { ...bodyOf(current, number), seeds: SEEDS } })
      .catch(() => null)
    if (answer?.data && answer.data.edit === week.value?.edit) range.value = answer.data
  }

  return { week, range, problem, busy, answered, ask, forget }
})
