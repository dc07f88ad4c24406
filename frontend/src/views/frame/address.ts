import type { Plan } from '@/api/client'

import { isDate } from './useWeek'

/** What the address may name in place of one pool: all of them. */
export const EVERY = 'all pools'
const among = (list: readonly { id: string }[], value: string) =>
  list.some((each) => each.id === value)
const whole = (value: string, most: number) => /^\d{1,4}$/.test(value) && Number(value) <= most

/** What People may be asked "what if", by the word of the address: bounds, step, and as it is now. */
export const WHAT_IF = {
  come: { low: 40, high: 160, step: 5, now: 100 },
  grown: { low: -40, high: 100, step: 5, now: 0 },
  later: { low: -180, high: 180, step: 15, now: 0 },
} as const
export type Asked = Record<keyof typeof WHAT_IF, number>

/** What a word of the address asks "what if", or nothing where it is no number that may be asked. */
export function askedIn(word: keyof Asked, value: unknown): number | null {
  if (typeof value !== 'string' || !/^-?\d{1,3}$/.test(value)) return null
  const { low, high } = WHAT_IF[word]
  const number = Number(value)
  return number >= low && number <= high ? number : null
}
const mayAsk = (word: keyof Asked) => (_: Plan, value: string) => askedIn(word, value) !== null

/** What a word of the address names, and whether the plan has one of that value. */
const NAMED: Record<string, [what: string, there: (plan: Plan, value: string) => boolean]> = {
  pool: ['pool', (plan, value) => value === EVERY || among(plan.pools, value)],
  against: ['pool to compare with', (plan, value) => among(plan.pools, value)],
  group: ['group', (plan, value) => among(plan.groups, value)],
  day: ['day', (_, value) => whole(value, 6)],
  band: ['band', (_, value) => whole(value, 47)],
  week: ['week', (_, value) => isDate(value)],
  weeks: ['year', (_, value) => whole(value, 9_999)],
  limit: ['session limit', (_, value) => whole(value, 9_999) && Number(value) > 0],
  come: ['share of people who come', mayAsk('come')],
  grown: ['growth', mayAsk('grown')],
  later: ['later start', mayAsk('later')],
}

/** What an address asks for that is not there, in words. */
export function missingIn(plan: Plan, query: Record<string, unknown>): string[] {
  return Object.entries(query).flatMap(([word, value]) => {
    const [what, there] = NAMED[word] ?? []
    if (!what || !there || typeof value !== 'string' || value === '') return []
    return there(plan, value) ? [] : [`${what} ‘${value.slice(0, 60)}’`]
  })
}
