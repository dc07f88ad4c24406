import type { Plan } from '@/api/client'

import { isDate } from './useWeek'

/** What the address may name in place of one pool: all of them. */
export const EVERY = 'all pools'
const among = (list: readonly { id: string }[], value: string) =>
  list.some((each) => each.id === value)
const whole = (value: string, most: number) => /^\d{1,4}$/.test(value) && Number(value) <= most

/** What a word of the address names, and whether the plan has one of that value. */
const NAMED: Record<string, [what: string, there: (plan: Plan, value: string) => boolean]> = {
  pool: ['pool', (plan, value) => value === EVERY || among(plan.pools, value)],
  against: ['pool to compare with', (plan, value) => among(plan.pools, value)],
  group: ['group', (plan, value) => among(plan.groups, value)],
  day: ['day', (_, value) => whole(value, 6)],
  band: ['band', (_, value) => whole(value, 47)],
  week: ['week', (_, value) => isDate(value)],
  weeks: ['year', (_, value) => whole(value, 9_999)],
}

/** What an address asks for that is not there, in words. */
export function missingIn(plan: Plan, query: Record<string, unknown>): string[] {
  return Object.entries(query).flatMap(([word, value]) => {
    const [what, there] = NAMED[word] ?? []
    if (!what || !there || typeof value !== 'string' || value === '') return []
    return there(plan, value) ? [] : [`${what} ‘${value.slice(0, 60)}’`]
  })
}
