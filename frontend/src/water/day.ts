import type { Band, Day, Plan, Pool, Schedule, Series, WeekAnswer } from '@/api/client'

import { rowKey } from '@/plan/rows'

import { asInPool } from './own'

/** A band of the chosen day as it is drawn: where it lies in the plan and in time. */
export interface DayBand {
  index: number
  /** The key of its row in the plan. */
  key: string
  band: Band
  start: number
  end: number
  /** Between which instants it may begin. */
  earliest: number
  latest: number
}

/** Where a day's bands lie in a plan. */
export interface DayPlace {
  schedule: string
  /** The key of its kind of day. */
  dayType: string
}

export function minutesOf(text: string): number {
  return Number(text.slice(0, 2)) * 60 + Number(text.slice(3))
}

export function scheduleOf(plan: Plan, pool: Pool): Schedule | undefined {
  return plan.schedules.find((schedule) => schedule.id === pool.schedule)
}

/** A row of a list as it is now. */
export function rowNow<T extends object>(list: readonly T[] = [], then?: T): T | undefined {
  return then && list.find((row) => rowKey(row) === rowKey(then))
}

/** Whose bands a day has, as the week tells it that was simulated with the schedule `then`. */
export function placeOf(then: Schedule, week: WeekAnswer, day: Day): DayPlace | null {
  const band = week.bands.find((each) => each.start >= day.start && each.start < day.end)
  const kind = band && then.day_types[band.day_type]
  return kind ? { schedule: then.id, dayType: rowKey(kind) } : null
}

/** What the hand holds of a band, or has just let go: an edge (its instant), or a value. */
export interface Held {
  index: number
  instant?: number
  floor?: number
  fill_ceiling?: number
}

/**
 * The bands of a day: when they are in force as the week tells it, what they say as the plan has
 * it. The week tells them by their places in the schedule `then`, with which it was simulated.
 * What is held stands where the hand is until the week has followed.
 */
export function bandsOf(
  schedule: Schedule,
  week: WeekAnswer,
  day: Day,
  held: Held | null,
  then = schedule,
): DayBand[] {
  const found: DayBand[] = []
  for (const each of week.bands) {
    if (each.start < day.start || each.start >= day.end) continue
    const kind = then.day_types[each.day_type]
    const shared = rowNow(rowNow(schedule.day_types, kind)?.bands, kind?.bands[each.band])
    if (!shared) continue
    const band = asInPool(shared, week.pool)
    const { start, earliest, latest } = each
    found.push({ index: each.band, key: rowKey(shared), band, start, end: each.end, earliest, latest })
  }
  const at = held ? found.findIndex((each) => each.index === held.index) : -1
  const [edge, before] = [found[at], found[at - 1]]
  if (!held || !edge) return found
  const { instant, floor = edge.band.floor, fill_ceiling = edge.band.fill_ceiling } = held
  edge.band = { ...edge.band, floor, fill_ceiling }
  if (instant !== undefined) edge.start = instant
  if (instant !== undefined && before) before.end = instant
  return found
}

/** The bins of a day within a week's series: [first, last). */
export function binsOf(series: Series, day: Day): [number, number] {
  return [
    Math.round((day.start - series.start) / series.seconds),
    Math.round((day.end - series.start) / series.seconds),
  ]
}

/** The value of a series at an instant. */
export function valueAt(series: Series, values: number[], instant: number): number {
  return values[Math.floor((instant - series.start) / series.seconds)] ?? 0
}
