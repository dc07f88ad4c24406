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

import { newest, type Outcome } from './newest'

const SEEDS = 8
/** The picture is drawn first; the other weeks would take the processor from it. */
const RANGE_AFTER_MS = 120

interface Wish {
  plan: Plan
  pool: string
  first: string
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
  /** The edit that the week is the answer to. */
  let shown = 0
  /** Counts answers, for those who measure how long an edit takes to show. */
  const answered = ref(0)

  const tab = crypto.randomUUID()
  let later: ReturnType<typeof setTimeout> | undefined

  function bodyOf(current: Wish, number: number) {
    return {
      plan: current.plan as unknown as Record<string, never>,
      pool: current.pool,
      first: current.first,
      tab,
      edit: number,
      saved: current.saved,
    }
  }

  async function askWeek(current: Wish, number: number): Promise<Outcome> {
    clearTimeout(later)
    const answer = await api
      .POST('/api/simulations/week', { body: bodyOf(current, number) })
      .catch(() => null)
    if (answer?.data) {
      week.value = answer.data
      shown = number
      range.value = null
      problem.value = null
      answered.value += 1
      if (current.range) later = setTimeout(() => void askRange(current, number), RANGE_AFTER_MS)
      return 'done'
    }
    if (answer?.response.status === 204) return 'done' // superseded by a newer edit
    problem.value = problemOf(answer?.error)
    return problem.value.status === 0 || problem.value.status >= 500 ? 'gone' : 'done'
  }

  async function askRange(current: Wish, number: number): Promise<void> {
    const answer = await api
      .POST('/api/simulations/range', {
        body: { ...bodyOf(current, number), seeds: SEEDS, days: 7 },
      })
      .catch(() => null)
    if (answer?.data && number === shown) range.value = answer.data
  }

  const asker = newest(askWeek)

  function forget(): void {
    asker.stop()
    clearTimeout(later)
    week.value = null
    range.value = null
    problem.value = null
  }

  return { week, range, problem, busy: asker.busy, answered, ask: asker.ask, forget }
})
