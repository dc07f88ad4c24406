import { defineStore } from 'pinia'
import { computed, watch } from 'vue'

import { api, type FactsAnswer, type Plan } from '@/api/client'
import { keyOf } from '@/ask/content'
import { question } from '@/ask/question'
import { sent } from '@/ask/send'

import { usePlan } from './store'

/** What follows from the plan's parts alone, as the core tells it of the plan without a gesture. */
export const useFacts = defineStore('facts', () => {
  const store = usePlan()
  const asked = question<Plan, FactsAnswer>(
    (plan, call) => api.POST('/api/plans/facts', sent({ plan }, call.signal)),
    { key: (plan) => keyOf(plan), urgent: () => true },
  )
  watch(
    () => store.settled,
    (plan) => (plan ? asked.ask(plan) : asked.forget()),
    { immediate: true },
  )
  const answer = asked.answer
  return {
    /** Patterns that an event may have. */
    patternsOf: (event: string) => answer.value?.patterns[event] ?? [],
    /** What follows of each pool by its id; empty until it is told. */
    pools: computed<Partial<FactsAnswer['pools']>>(() => answer.value?.pools ?? {}),
    /** The class of users whose values a workload profile has; empty where they are its own. */
    classOf: (profile: string) => answer.value?.classes[profile] ?? '',
    /** What the plan began with and nobody has confirmed. */
    assumed: computed(() => answer.value?.assumed ?? []),
  }
})
