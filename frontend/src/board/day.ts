import type { Band, Day, Plan, Pool, Schedule, Series } from '@/api/client'
import { WEEKDAY_IDS, clock } from '@/ui/format'

export const STEP = 300

/** A band of the chosen day as it is drawn: where it lies in the plan and in time. */
export interface DayBand {
  index: number
  band: Band
  start: number
  end: number
}

export function minutesOf(text: string): number {
  return Number(text.slice(0, 2)) * 60 + Number(text.slice(3))
}

export function clockText(minutes: number): string {
  const bounded = Math.max(0, Math.min(minutes, 24 * 60 - 5))
  return `${String(Math.floor(bounded / 60)).padStart(2, '0')}:${String(bounded % 60).padStart(2, '0')}`
}

/** Clocks of the days looked at lately: a week that is answered anew has the same days. */
const clocks = new Map<string, number[]>()
const MOST_CLOCKS = 64

/** Local clock minutes at every five-minute step of a day (23, 24 or 25 hours long). */
export function localMinutes(day: Day, zone: string): number[] {
  const key = `${zone} ${day.start} ${day.end}`
  let found = clocks.get(key)
  if (!found) {
    const steps = Math.round((day.end - day.start) / STEP)
    found = Array.from({ length: steps }, (_, k) => minutesOf(clock(day.start + k * STEP, zone)))
    if (clocks.size >= MOST_CLOCKS) clocks.clear()
    clocks.set(key, found)
  }
  return found
}

/** First instant of the day whose local clock has reached the given minutes. */
export function instantOf(day: Day, minutes: number[], wanted: number): number {
  const step = minutes.findIndex((m) => m >= wanted)
  return step < 0 ? day.end : day.start + step * STEP
}

/** Local clock minutes at an instant, on the five-minute grid. */
export function minutesAt(day: Day, minutes: number[], instant: number): number {
  const step = Math.round((instant - day.start) / STEP)
  return minutes[Math.max(0, Math.min(step, minutes.length - 1))] ?? 0
}

export function scheduleOf(plan: Plan, pool: Pool): Schedule | undefined {
  return plan.schedules.find((schedule) => schedule.id === pool.schedule)
}

/** Which day type a day has: the one that names its date, else that of its weekday. */
export function dayTypeIndex(schedule: Schedule, day: Pick<Day, 'date' | 'weekday'>): number {
  const own = schedule.day_types.findIndex((type) => type.dates.includes(day.date))
  if (own >= 0) return own
  const name = WEEKDAY_IDS[day.weekday] ?? 'mon'
  return schedule.day_types.findIndex((type) => type.weekdays.includes(name))
}

export function bandsOf(schedule: Schedule, day: Day, zone: string): DayBand[] {
  const type = schedule.day_types[dayTypeIndex(schedule, day)]
  if (!type) return []
  const minutes = localMinutes(day, zone)
  const starts = type.bands.map((band) => instantOf(day, minutes, minutesOf(band.from)))
  return type.bands.map((band, index) => ({
    index,
    band,
    start: starts[index] ?? day.start,
    end: starts[index + 1] ?? day.end,
  }))
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
