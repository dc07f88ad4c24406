import { computed, onBeforeUnmount, proxyRefs, watch } from 'vue'

import { api, type Plan, type RangeAnswer, type WeekAnswer } from '@/api/client'
import { keyOf } from '@/ask/content'
import { newLine, useQuestion, type Call } from '@/ask/question'
import { named, sent } from '@/ask/send'

const SEEDS = 8
/** The picture is drawn first; the other weeks would take the processor from it. */
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

function bodyOf(wish: WeekWish, call: Call) {
  const { plan, pool, first, saved } = wish
  return { plan: plan as unknown as Record<string, never>, pool, first, saved, ...named(call) }
}

/**
 * A pool's simulated week, and its range over several weeks once nothing is held. A settled wish
 * ends the preview that is being answered.
 */
export function useWeeks() {
  const line = newLine()
  const week = useQuestion<WeekWish, WeekAnswer>(
    (wish, call) =>
      api.POST('/api/simulations/week', {
        body: { ...bodyOf(wish, call), preview: !wish.settled, day: wish.day ?? null },
        ...sent(call),
      }),
    {
      key: (wish) =>
        keyOf(
          wish.plan,
          wish.pool,
          wish.first,
          wish.saved,
          wish.settled ? 'settled' : `${wish.day}`,
        ),
      urgent: (wish) => wish.settled,
      line,
    },
  )
  const range = useQuestion<WeekWish, RangeAnswer>(
    (wish, call) =>
      api.POST('/api/simulations/range', {
        body: { ...bodyOf(wish, call), seeds: SEEDS, days: 7 },
        ...sent(call),
      }),
    {
      key: (wish) => keyOf(wish.plan, wish.pool, wish.first, wish.saved),
      urgent: () => true,
      line,
    },
  )

  let later: ReturnType<typeof setTimeout> | undefined
  watch(week.answered, () => {
    clearTimeout(later)
    const wish = week.wish.value
    if (wish?.settled) later = setTimeout(() => range.ask(wish), RANGE_AFTER_MS)
  })
  onBeforeUnmount(() => clearTimeout(later))

  function ask(wish: WeekWish): void {
    clearTimeout(later)
    range.stop()
    week.ask(wish)
    // What is there already is not answered again; its range may still be wanted.
    if (wish.settled && !week.busy.value) later = setTimeout(() => range.ask(wish), RANGE_AFTER_MS)
  }
  function forget(): void {
    clearTimeout(later)
    week.forget()
    range.forget()
  }
  /** The range belongs to the plan, pool and week that are shown, or is not shown. */
  const fitting = computed(() => {
    const [one, many] = [week.wish.value, range.wish.value]
    const same =
      one && many && one.plan === many.plan && one.pool === many.pool && one.first === many.first
    return same ? range.answer.value : null
  })

  return proxyRefs({
    week: week.answer,
    range: fitting,
    problem: computed(() => week.problem.value ?? range.problem.value),
    busy: week.busy,
    fits: week.fits,
    /** Whether lanes and waits of the week can be asked for. */
    kept: computed(() => week.fits.value && !!week.wish.value?.settled),
    ask,
    again: week.again,
    forget,
  })
}
