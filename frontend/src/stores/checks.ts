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

/** Whether a finding is about a field of a schedule. */
function atSchedule(checked: Plan | null, schedule: string, field: string) {
  const place = checked?.schedules.findIndex((each) => each.id === schedule) ?? -1
  return ({ pointer }: Check) => pointer === `/schedules/${place}/${field}`
}

/**
 * What mends a finding where one value in its place does not: a quota is for somebody else to
 * grant, and the rules of a schedule keep their times where its days begin at another one.
 */
function editFor(plan: Plan, { pointer, value, to_grant }: NonNullable<Check['does']>) {
  const [list, at, field] = pointer.slice(1).split('/')
  if (to_grant)
    return {
      verb: 'ask-quota',
      size: plan.sizes[Number(at)]?.id ?? '',
      vcpu: Number(value),
    } as const
  if (list === 'schedules' && field === 'day_begins')
    return {
      verb: 'begin-days',
      schedule: plan.schedules[Number(at)]?.id ?? '',
      at: String(value),
    } as const
  return null
}

function mended(plan: ReturnType<typeof usePlan>, checked: Plan | null, does: Check['does']): void {
  if (!does || !checked) return
  const edit = editFor(checked, does)
  if (edit) void plan.apply(edit)
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
  const ofSchedule = (schedule: string, field: string) =>
    findings.value.filter(atSchedule(found.wish.value, schedule, field))
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
    ofSchedule,
    mend,
    follow,
    rest,
  }
})
