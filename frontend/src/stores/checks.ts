import { defineStore } from 'pinia'
import { computed } from 'vue'

import type { Check, ChecksAnswer, Plan } from '@/api/client'

import { keyOf } from '@/ask/content'
import { inParts } from '@/ask/parts'
import { question } from '@/ask/question'
import { named } from '@/ask/send'
import { lensAt } from '@/plan/lens'
import { usePlan } from '@/plan/store'

/** Checks follow the plan once an edit has settled, so that pictures are answered first. */
const SETTLED_MS = 500

/** Whether a finding is inside one pool, or inside some fields of it. Its pointer leads into the
 * plan that was checked: what is looked at may stand elsewhere by now. */
function insidePool(checked: Plan | null, pool: string, fields: readonly string[]) {
  const place = checked?.pools.findIndex((each) => each.id === pool) ?? -1
  const inside = (fields.length ? fields : ['']).map((field) => `/pools/${place}/${field}`)
  return ({ pointer }: Check) => inside.some((start) => `${pointer}/`.startsWith(start))
}

/** What somebody else has to grant is a request, not an edit: a quota of a size. */
function requestOf({ sizes }: Plan, { pointer, value }: NonNullable<Check['does']>) {
  const size = sizes[Number(pointer.split('/')[2])]
  return { verb: 'ask-quota', size: size?.id ?? '', vcpu: Number(value) } as const
}

function mended(plan: ReturnType<typeof usePlan>, checked: Plan | null, does: Check['does']): void {
  if (!does || !checked) return
  if (does.to_grant) void plan.apply(requestOf(checked, does))
  else plan.set(lensAt(checked, does.pointer), does.value)
}

/** What the checks found in the plan as it stands on the page. */
export const useChecks = defineStore('checks', () => {
  const plan = usePlan()
  const found = question<Plan, ChecksAnswer>(
    (plan, call) => inParts<ChecksAnswer>('/api/checks/parts', { plan, ...named(call) }, call),
    { key: (plan) => keyOf(plan), urgent: () => true },
  )
  let later: ReturnType<typeof setTimeout> | undefined

  const findings = computed<Check[]>(() => found.answer.value?.findings ?? [])
  const harms = computed(() => findings.value.filter((each) => each.severity === 'harm').length)

  function follow(now: Plan | null): void {
    clearTimeout(later)
    if (!now) return found.forget()
    later = setTimeout(() => found.ask(now), SETTLED_MS)
  }
  /** No page of a plan is there: what has not been asked yet is not asked. */
  const rest = () => clearTimeout(later)
  const about = (pool: string, ...fields: string[]) =>
    findings.value.filter(insidePool(found.wish.value, pool, fields))
  /** Put right what a check found, in the plan as it is now. */
  const mend = ({ does }: Check) => mended(plan, found.wish.value, does)

  return {
    answer: found.answer,
    problem: found.problem,
    progress: found.progress,
    busy: found.busy,
    stop: found.stop,
    findings,
    harms,
    about,
    mend,
    follow,
    rest,
  }
})
