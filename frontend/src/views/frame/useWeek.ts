import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { PLAN } from '@/plan/lens'
import { usePlan } from '@/plan/store'
import { weekdayOf } from '@/ui/format'

const DAY = 86_400_000

/** The Monday of the week that holds a date such as 2027-03-03. */
export function mondayOf(date: string): string {
  return daysLater(date, -weekdayOf(date))
}

/** A date so many days later. */
export function daysLater(date: string, days: number): string {
  return new Date(new Date(`${date}T00:00:00Z`).getTime() + days * DAY).toISOString().slice(0, 10)
}

/** Whether a text is a date that there is. */
export function isDate(text: unknown): text is string {
  if (typeof text !== 'string' || !/^\d{4}-\d\d-\d\d$/.test(text)) return false
  const at = new Date(`${text}T00:00:00Z`)
  return !Number.isNaN(at.getTime()) && at.toISOString().startsWith(text)
}

/** The week looked at: the address names it, or it is the plan's own. */
export function useWeek() {
  const route = useRoute()
  const router = useRouter()
  const store = usePlan()
  const own = computed(() => mondayOf(store.plan?.week_of ?? '2027-01-04'))
  const first = computed(() => {
    const named = route.query.week
    return isDate(named) ? mondayOf(named) : own.value
  })
  function go(date: string): void {
    if (!isDate(date)) return
    const monday = mondayOf(date)
    const week = monday === own.value ? undefined : monday
    void router.replace({ query: { ...route.query, week } })
  }
  /** Make the week looked at the plan's own. */
  function keep(): void {
    const monday = first.value
    store.set(PLAN.at('week_of'), monday)
    void router.replace({ query: { ...route.query, week: undefined } })
  }
  return { first, own, go, keep }
}
