import type { WeekOfYear } from '@/api/client'
import type { Pen } from '@/chart/pen'
import { stepArea } from '@/chart/steps'
import type { Table } from '@/chart/table'
import { count, dayName, duration, money, share } from '@/ui/format'

import { INKS } from '@/water/water'

/** Weeks of a year by their places; those that are not done are missing. */
export type Weeks = readonly (WeekOfYear | undefined)[]

export function topOf(weeks: Weeks): number {
  return Math.max(8, ...weeks.map((each) => (each ? each.sessions + each.waiting : 0)))
}

/** Each week's most sessions as water, who waits at once above it, and a foot where it is broken. */
export function drawYear(pen: Pen, weeks: Weeks, width: number, height: number): void {
  const most = topOf(weeks)
  const wide = width / weeks.length
  const y = (value: number) => height - (value / most) * height
  weeks.forEach((week, k) => {
    if (!week) return
    const edges = [k * wide + 1, (k + 1) * wide - 1]
    pen.fill(stepArea(edges, [height], [y(week.sessions)]), { colour: '--water-1' })
    const crest = y(week.sessions + week.waiting)
    if (week.waiting > 0) pen.fill(stepArea(edges, [y(week.sessions)], [crest]), INKS.flood[0])
  })
}

/** A week in words. */
export function weekWords(week: WeekOfYear, currency: string): string {
  const wait = week.unbounded
    ? 'more than one of twenty gets no desktop'
    : week.wait_p95 === null
      ? 'nobody asks'
      : `95 % wait ${duration(week.wait_p95)} at most`
  const month = `${money(week.month, currency)} a month`
  return (
    `Week of ${dayName(week.first)} ${week.first.slice(0, 4)}: ${count(week.sessions)} sessions, ` +
    `${count(week.waiting)} wait at once, ${wait}, ${share(week.idle_share)} unused, ${month}, ` +
    `the promise is ${week.kept ? 'kept' : 'broken'}`
  )
}

export const tableOf = (weeks: Weeks): Table => ({
  head: ['week of', 'most sessions', 'most waiting', '95 % wait', 'unused share', 'month', 'kept'],
  rows: weeks.flatMap((week) =>
    week
      ? [
          [
            week.first,
            week.sessions,
            week.waiting,
            week.wait_p95 ?? '',
            week.idle_share,
            week.month,
            week.kept ? 1 : 0,
          ],
        ]
      : [],
  ),
})
