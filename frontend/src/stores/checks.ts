import { defineStore } from 'pinia'
import { computed } from 'vue'

import type { Check, ChecksAnswer, Plan } from '@/api/client'

import { keyOf } from '@/ask/content'
import { inParts } from '@/ask/parts'
import { question } from '@/ask/question'
import { named } from '@/ask/send'

/** Checks follow the plan once an edit has settled, so that pictures are answered first. */
const SETTLED_MS = 500

/** What the checks found in the plan as it stands on the page. */
export const useChecks = defineStore('checks', () => {
  const found = question<Plan, ChecksAnswer>(
    (plan, call) => inParts<ChecksAnswer>('/api/checks/parts', { plan, ...named(call) }, call),
    { key: (plan) => keyOf(plan), urgent: () => true },
  )
  let later: ReturnType<typeof setTimeout> | undefined

  const findings = computed<Check[]>(() => found.answer.value?.findings ?? [])
  const harms = computed(() => findings.value.filter((each) => each.severity === 'harm').length)

  function follow(plan: Plan | null): void {
    clearTimeout(later)
    if (!plan) return found.forget()
    later = setTimeout(() => found.ask(plan), SETTLED_MS)
  }
  /** Findings about one place of the plan and what is inside it. */
  const about = (pointer: string) =>
    findings.value.filter((each) => `${each.pointer}/`.startsWith(`${pointer}/`))

  return {
    answer: found.answer,
    problem: found.problem,
    progress: found.progress,
    busy: found.busy,
    stop: found.stop,
    findings,
    harms,
    about,
    follow,
  }
})

/** Put a value where a JSON pointer leads. */
export function mend(plan: Plan, pointer: string, value: unknown): void {
  const keys = pointer.replace(/^\//, '').split('/')
  const last = keys.pop() ?? ''
  const holder = keys.reduce<unknown>(
    (at, key) => (at as Record<string, unknown> | undefined)?.[key],
    plan,
  )
  if (holder && typeof holder === 'object') (holder as Record<string, unknown>)[last] = value
}
