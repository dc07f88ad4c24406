import { defineStore } from 'pinia'
import { ref, shallowRef } from 'vue'

import {
  api,
  problemOf,
  type CrowdAnswer,
  type CrowdRange,
  type CrowdYear,
  type Plan,
  type Problem,
} from '@/api/client'

import { newest, type Outcome } from './newest'

/** The week is drawn first; its range over many weeks, or the year, comes after. */
const LATER_MS = 150

export interface CrowdWish {
  plan: Plan
  first: string
  zone: string
  /** The first day of the year to draw too, or none. */
  year: string | null
  /** Whether nothing is held: then the range over many weeks is wanted too. */
  settled: boolean
}

/** Who is at work, kept up with the plan: the newest wish is answered, older answers dropped. */
export const useCrowd = defineStore('crowd', () => {
  const answer = shallowRef<CrowdAnswer | null>(null)
  const range = shallowRef<CrowdRange | null>(null)
  const year = shallowRef<CrowdYear | null>(null)
  const problem = shallowRef<Problem | null>(null)
  const answered = ref(0)
  /** The edit that the week is the answer to. */
  let shown = 0
  const tab = crypto.randomUUID()
  let later: ReturnType<typeof setTimeout> | undefined

  const bodyOf = (wish: CrowdWish, edit: number) => ({
    plan: wish.plan as unknown as Record<string, never>,
    first: wish.first,
    zone: wish.zone || null,
    days: 7,
    tab,
    edit,
  })

  async function week(wish: CrowdWish, edit: number): Promise<Outcome> {
    const found = await api
      .POST('/api/people/crowd', { body: bodyOf(wish, edit) })
      .catch(() => null)
    if (found?.data) {
      answer.value = found.data
      shown = edit
      range.value = null
      problem.value = null
      answered.value += 1
      clearTimeout(later)
      if (wish.settled) later = setTimeout(() => void rest(wish, edit), LATER_MS)
      return 'done'
    }
    if (found?.response.status === 204) return 'done'
    problem.value = problemOf(found?.error)
    return problem.value.status === 0 || problem.value.status >= 500 ? 'gone' : 'done'
  }

  async function rest(wish: CrowdWish, edit: number): Promise<void> {
    if (wish.year) {
      const body = { ...bodyOf(wish, edit), first: wish.year, days: 365 }
      const found = await api.POST('/api/people/year', { body }).catch(() => null)
      if (found?.data && edit === shown) year.value = found.data
    }
    if (edit !== shown) return
    const body = { ...bodyOf(wish, edit), seeds: 40 }
    const found = await api.POST('/api/people/range', { body }).catch(() => null)
    if (found?.data && edit === shown) range.value = found.data
  }

  const asker = newest(week)

  function forget(): void {
    asker.stop()
    clearTimeout(later)
    answer.value = null
    range.value = null
    year.value = null
    problem.value = null
  }

  return { answer, range, year, problem, answered, busy: asker.busy, ask: asker.ask, forget }
})
