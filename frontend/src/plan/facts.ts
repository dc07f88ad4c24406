import { computed, watch } from 'vue'

import { api, type FactsAnswer, type Plan } from '@/api/client'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import { sent } from '@/ask/send'

import { usePlan } from './store'

/** What follows from the plan's parts alone, as the core tells it of the plan without a gesture. */
export function useFacts() {
  const store = usePlan()
  const asked = useQuestion<Plan, FactsAnswer>(
    (plan, call) => api.POST('/api/plans/facts', sent({ plan }, call.signal)),
    { key: (plan) => keyOf(plan), urgent: () => true },
  )
  watch(
    () => store.settled,
    (plan) => (plan ? asked.ask(plan) : asked.forget()),
    { immediate: true },
  )
  return {
    /** Patterns that an event may have. */
    patternsOf: (event: string) => asked.answer.value?.patterns[event] ?? [],
    /** What follows of each pool by its id; empty until it is told. */
    pools: computed<Partial<FactsAnswer['pools']>>(() => asked.answer.value?.pools ?? {}),
  }
}
