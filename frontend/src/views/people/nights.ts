import type { CrowdYear } from '@/api/client'

export type Hours = readonly (number | null)[]
type Days = CrowdYear['days']

const NOON = 12

/** Whether most people are there at midnight rather than at noon: pictures of a day then begin at
 * noon, so that a night is in one piece. */
export function atNight(days: readonly Hours[]): boolean {
  const most = (hour: number) => Math.max(0, ...days.map((day) => day[hour] ?? 0))
  const midnight = Math.min(most(23), most(0))
  return midnight > 0 && midnight > 2 * most(NOON)
}

/** The hours of the clock in the order in which a day shows them. */
export const clockHours = (night: boolean): number[] =>
  Array.from({ length: 24 }, (_, row) => (night ? (row + NOON) % 24 : row))

/** What a day shows in a row: a day that begins at noon goes on with the hours of the next date. */
export function shownAt(days: Days, day: number, row: number, night: boolean): number | null {
  const hour = night ? row + NOON : row
  return days[day + Math.floor(hour / 24)]?.hours[hour % 24] ?? null
}
