import { onBeforeUnmount, watch } from 'vue'

import { api, type Plan, type WordsAnswer } from '@/api/client'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import { about } from '@/ask/send'

/** The picture is asked for first. */
const AFTER = 120

/** The schedule of a pool in words: how its sentences are built, not what their values are. */
export function useWords(wish: () => { plan: Plan; pool: string } | null) {
  const words = useQuestion<{ plan: Plan; pool: string }, WordsAnswer>(
    (asked, call) => api.POST('/api/plans/words', about(asked, call)),
    {
      key: (asked) => keyOf(asked.plan, asked.pool),
      about: (asked) => asked.pool,
      urgent: () => true,
    },
  )
  let later: ReturnType<typeof setTimeout> | undefined
  watch(
    wish,
    (now, before) => {
      clearTimeout(later)
      if (!now) return words.forget()
      if (now.pool !== before?.pool) words.ask(now)
      else later = setTimeout(() => words.ask(now), AFTER)
    },
    { immediate: true },
  )
  onBeforeUnmount(() => clearTimeout(later))
  return words
}
