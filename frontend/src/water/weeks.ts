import { computed, onBeforeUnmount, proxyRefs, shallowRef, watch } from 'vue'

import { api, type Plan, type RangeAnswer, type WeekAnswer } from '@/api/client'
import { keyOf } from '@/ask/content'
import { inParts } from '@/ask/parts'
import { newLine, useQuestion } from '@/ask/question'
import { about, named } from '@/ask/send'

const SEEDS = 8
/** Weeks that are simulated as long work where somebody wants to know it closer. */
export const MANY = 256
/** The picture is drawn first; what comes after it would take the processor from it. */
const WHOLE_AFTER_MS = 40
const RANGE_AFTER_MS = 120

export interface WeekWish {
  plan: Plan
  pool: string
  first: string
  /** Whether the plan is a saved revision: its results are kept. */
  saved: boolean
  /** The day that is looked at, as it comes in the week: previews draw no other. */
  day?: number
  /** Whether nothing is held: then the range over several weeks is wanted too. */
  settled: boolean
}

interface Shown {
  week: WeekAnswer
  wish: WeekWish
}

const sameWeek = (a: WeekWish, b: WeekWish) =>
  a.plan === b.plan && a.pool === b.pool && a.first === b.first

/**
 * A pool's simulated week in three steps: its figures and the picture of the day that is looked at;
 * once nothing is held the whole of it, of which lanes and waits can be asked; then the range over
 * several weeks. A settled wish ends what is answered for another plan.
 */
export function useWeeks() {
  const line = newLine()
  const newest = shallowRef<WeekWish | null>(null)
  const wholeKey = (wish: WeekWish) => keyOf(wish.plan, wish.pool, wish.first)
  /** A week is shown for its pool and its dates alone. */
  const subject = (wish: WeekWish) => `${wish.pool} ${wish.first}`
  const week = (preview: boolean, key: (wish: WeekWish) => string) =>
    useQuestion<WeekWish, WeekAnswer>(
      ({ plan, pool, first, saved, day = null }, call) =>
        api.POST('/api/simulations/week', about({ plan, pool, first, saved, preview, day }, call)),
      { key, about: subject, urgent: (wish) => wish.settled, line },
    )
  const dayKey = (wish: WeekWish) => keyOf(wish.plan, wish.pool, wish.first, wish.day ?? null)
  const glance = week(true, dayKey)
  const whole = week(false, wholeKey)
  const range = useQuestion<WeekWish, RangeAnswer>(
    ({ plan, pool, first, saved }, call) =>
      api.POST(
        '/api/simulations/range',
        about({ plan, pool, first, saved, seeds: SEEDS, days: 7 }, call),
      ),
    {
      key: (wish) => keyOf(wish.plan, wish.pool, wish.first, wish.saved),
      about: subject,
      urgent: () => true,
      line,
    },
  )

  /** The same over many weeks, as far as they are simulated. */
  const soFar = shallowRef<RangeAnswer | null>(null)
  const many = useQuestion<WeekWish, RangeAnswer>(
    ({ plan, pool, first, saved }, call) => {
      const body = { plan, pool, first, saved, seeds: MANY, days: 7, ...named(call) }
      return inParts<RangeAnswer>('/api/simulations/range/long', body, call, (part) => {
        soFar.value = (part as { so_far?: RangeAnswer | null }).so_far ?? soFar.value
      })
    },
    { key: wholeKey, about: subject, urgent: () => true },
  )
  function askMany(): void {
    if (!newest.value) return
    soFar.value = null
    many.ask(newest.value)
  }
  function stopMany(): void {
    many.stop()
  }

  const fitsTo = (found: typeof whole, key: (wish: WeekWish) => string) =>
    computed(() => {
      const wish = newest.value
      return wish !== null && !found.problem.value && found.key.value === key(wish)
    })
  const glanced = fitsTo(glance, dayKey)
  /** Whether the whole week of the newest wish is there. */
  const kept = fitsTo(whole, wholeKey)

  /** What came last, and the glance where both are there: the same is not drawn twice. */
  const last = shallowRef<Shown | null>(null)
  const take = (found: typeof whole) => {
    const [week, wish] = [found.answer.value, found.wish.value]
    last.value = week && wish && { week, wish }
  }
  function show(): void {
    if (glanced.value) take(glance)
    else if (kept.value) take(whole)
  }
  /** A week is shown while it is of the pool and the dates that are looked at. */
  const isOf = (wish: WeekWish | null) =>
    wish?.pool === newest.value?.pool && wish?.first === newest.value?.first
  const shown = computed(() => (last.value && isOf(last.value.wish) ? last.value : null))
  watch(glance.answered, () => take(glance), { flush: 'sync' })
  watch(whole.answered, show, { flush: 'sync' })

  let later: ReturnType<typeof setTimeout> | undefined
  function then(question: { ask: (wish: WeekWish) => void }, wish: WeekWish, after: number): void {
    clearTimeout(later)
    later = setTimeout(() => question.ask(wish), after)
  }
  /** What comes after that which is there. */
  function goOn(): void {
    const wish = newest.value
    if (!wish?.settled) return
    if (kept.value) then(range, wish, RANGE_AFTER_MS)
    else if (glanced.value) then(whole, wish, WHOLE_AFTER_MS)
  }
  watch([glance.answered, whole.answered], goOn)
  onBeforeUnmount(() => clearTimeout(later))

  function ask(wish: WeekWish): void {
    clearTimeout(later)
    range.stop()
    if (many.asked.value && newest.value && !sameWeek(wish, newest.value)) forgetMany()
    newest.value = wish
    show()
    if (kept.value) {
      // Another plan's week may be on its way, and would take the place of the one that is kept.
      whole.stop()
      if (glance.problem.value) glance.forget()
      else glance.stop()
      return goOn()
    }
    // With nothing to look at yet, and no day of its own to show, the whole is as good.
    if (wish.settled && (wish.day === undefined || !shown.value)) {
      glance.forget()
      return whole.ask(wish)
    }
    whole.stop()
    glance.ask(wish)
    if (!glance.busy.value) goOn()
  }
  function forgetMany(): void {
    many.stop()
    many.forget()
    soFar.value = null
  }
  function forget(): void {
    clearTimeout(later)
    newest.value = null
    last.value = null
    glance.forget()
    whole.forget()
    range.forget()
    many.forget()
    soFar.value = null
  }
  /** The range belongs to the plan, pool and week that are shown, or is not shown. */
  const fitting = computed(() => {
    const [one, several] = [newest.value, range.wish.value]
    if (!one || !several || !sameWeek(one, several)) return null
    return (many.fits.value ? many.answer.value : soFar.value) ?? range.answer.value
  })

  return proxyRefs({
    week: computed(() => shown.value?.week ?? null),
    /** What the shown week is of. */
    of: computed(() => shown.value?.wish ?? null),
    /** The whole week that came last. */
    whole: computed(() => (isOf(whole.wish.value) ? whole.answer.value : null)),
    range: fitting,
    /** How many of many weeks are simulated while they are; null where none are asked for. */
    many: computed(() => (many.busy.value ? many.progress.value : null)),
    manyProblem: many.problem,
    askMany,
    stopMany,
    problem: computed(() => glance.problem.value ?? whole.problem.value ?? range.problem.value),
    /** Whether a picture is waited for. */
    busy: computed(() => glance.busy.value || (whole.busy.value && !glanced.value)),
    /** Whether the picture is that of the newest wish. */
    fits: computed(() => glanced.value || kept.value),
    /** Whether lanes and waits of the week can be asked for. */
    kept,
    ask,
    forget,
  })
}
