import { computed, onBeforeUnmount, proxyRefs, watch } from 'vue'

import {
  api,
  type CrowdAnswer,
  type CrowdRange,
  type CrowdYear,
  type Edit,
  type Plan,
} from '@/api/client'
import { keyOf } from '@/ask/content'
import { inParts } from '@/ask/parts'
import { newLine, useQuestion, type Call, type Line } from '@/ask/question'
import { named, sent } from '@/ask/send'

/** The week is drawn first; its range over many weeks, or the year, comes after. */
const LATER_MS = 150
const SEEDS = 40

export type WhatIf = Extract<Edit, { verb: 'add-what-if' }>

export interface CrowdWish {
  plan: Plan
  first: string
  zone: string
  /** A question: the plan with this edit done. */
  whatIf: WhatIf | null
  /** The first day of the year to draw too, or none. */
  year: string | null
  /** Whether nothing is held: then the range over many weeks is wanted too. */
  settled: boolean
}

const bodyOf = (wish: CrowdWish, call: Call) => ({
  plan: wish.plan,
  first: wish.first,
  zone: wish.zone || null,
  days: 7,
  what_if: wish.whatIf,
  ...named(call),
})
/** What a picture of the week is about: another one is not shown in its place. */
const weekOf = (wish: CrowdWish) => `${wish.first} ${wish.zone}`
const placeOf = (wish: CrowdWish) => keyOf(wish.plan, wish.first, wish.zone, wish.whatIf)

/** Who is at work in a week, in its year, and over many such weeks. */
export function useCrowd() {
  const line = newLine()
  const drawn = (of: Line) =>
    useQuestion<CrowdWish, CrowdAnswer>(
      (wish, call) => api.POST('/api/people/crowd', sent(bodyOf(wish, call), call.signal)),
      { key: placeOf, about: weekOf, urgent: (wish) => wish.settled, line: of },
    )
  const week = drawn(line)
  /** The week as it is without what is asked "what if". */
  const calm = drawn(newLine())
  const year = useQuestion<CrowdWish, CrowdYear>(
    (wish, call) => {
      const body = { ...bodyOf(wish, call), first: wish.year ?? wish.first, days: 365 }
      return inParts<CrowdYear>('/api/people/year/parts', body, call)
    },
    {
      key: (wish) => keyOf(wish.plan, wish.year, wish.zone, wish.whatIf),
      about: (wish) => `${wish.year} ${wish.zone}`,
      urgent: () => true,
      line,
    },
  )
  const range = useQuestion<CrowdWish, CrowdRange>(
    (wish, call) => {
      const body = { ...bodyOf(wish, call), seeds: SEEDS }
      return api.POST('/api/people/range', sent(body, call.signal))
    },
    { key: placeOf, about: weekOf, urgent: () => true, line },
  )

  let wanted: CrowdWish | null = null
  let later: ReturnType<typeof setTimeout> | undefined
  function rest(): void {
    clearTimeout(later)
    const wish = wanted
    if (!wish?.settled) return
    later = setTimeout(() => {
      if (wish.year) year.ask(wish)
      if (!year.busy.value) range.ask(wish)
    }, LATER_MS)
  }
  watch(week.answered, rest)
  // Many weeks are drawn after the year, so that they do not hold it up.
  watch(year.answered, () => {
    if (wanted?.settled) range.ask(wanted)
  })
  onBeforeUnmount(() => clearTimeout(later))

  function ask(wish: CrowdWish): void {
    clearTimeout(later)
    range.stop()
    year.stop()
    wanted = wish
    week.ask(wish)
    if (wish.whatIf) calm.ask({ ...wish, whatIf: null })
    else calm.forget()
    if (!week.busy.value) rest()
  }
  function forget(): void {
    clearTimeout(later)
    wanted = null
    for (const each of [week, calm, year, range]) each.forget()
  }
  const fitting = computed(() =>
    range.key.value && range.key.value === week.key.value ? range.answer.value : null,
  )

  return proxyRefs({
    answer: week.answer,
    /** People at the peak without what is asked, while both weeks are there. */
    before: computed(() =>
      calm.fits.value && week.fits.value ? (calm.answer.value?.peak.people ?? null) : null,
    ),
    range: fitting,
    year: year.answer,
    yearProgress: year.progress,
    stopYear: year.stop,
    problem: computed(() => week.problem.value ?? year.problem.value ?? range.problem.value),
    busy: week.busy,
    fits: week.fits,
    ask,
    forget,
  })
}
