import type { Band, Plan } from '@/api/client'

import { freeId } from '@/ui/ids'

import { clockText, minutesOf } from './day'

/** Where a band lies in a plan. */
export interface BandPlace {
  schedule: string
  dayType: number
  band: number
}

export function bandAt(plan: Plan, place: BandPlace): Band | undefined {
  return bandsAt(plan, place)?.[place.band]
}

function bandsAt(plan: Plan, place: BandPlace): Band[] | undefined {
  return plan.schedules.find((s) => s.id === place.schedule)?.day_types[place.dayType]?.bands
}

/** Move the edge at which a band begins, never past its neighbours; the first stays at 00:00. */
export function moveEdge(plan: Plan, place: BandPlace, minutes: number): void {
  const bands = bandsAt(plan, place)
  const band = bands?.[place.band]
  if (!bands || !band || place.band === 0) return
  const before = bands[place.band - 1]
  const after = bands[place.band + 1]
  const low = before ? minutesOf(before.from) + 5 : 5
  const high = after ? minutesOf(after.from) - 5 : 24 * 60 - 5
  band.from = clockText(Math.max(low, Math.min(Math.round(minutes / 5) * 5, high)))
}

/** Give a date rules of its own, at first those of the day type it has. */
export function giveOwnRules(plan: Plan, place: BandPlace, date: string): void {
  const schedule = plan.schedules.find((s) => s.id === place.schedule)
  const like = schedule?.day_types[place.dayType]
  if (!schedule || !like || schedule.day_types.some((type) => type.dates.includes(date))) return
  const id = freeId(
    `day ${date}`,
    schedule.day_types.map((type) => type.id),
  )
  const bands = like.bands.map((band) => ({ ...band }))
  schedule.day_types.push({ id, weekdays: [], dates: [date], bands })
}

/** Take a date's own rules away; a day type that no day is left for goes with them. */
export function dropOwnRules(plan: Plan, place: BandPlace, date: string): void {
  const schedule = plan.schedules.find((s) => s.id === place.schedule)
  const type = schedule?.day_types[place.dayType]
  if (!schedule || !type) return
  type.dates = type.dates.filter((each) => each !== date)
  if (!type.dates.length && !type.weekdays.length) schedule.day_types.splice(place.dayType, 1)
}

export function setFloor(plan: Plan, place: BandPlace, floor: number, most: number): void {
  const band = bandAt(plan, place)
  if (band) band.floor = Math.max(0, Math.min(Math.round(floor), most))
}

export function setCeiling(plan: Plan, place: BandPlace, ceiling: number): void {
  const band = bandAt(plan, place)
  if (band) band.fill_ceiling = Math.max(0.05, Math.min(Math.round(ceiling * 100) / 100, 1))
}

/** Split a band in two alike at a clock time; returns the index of the later one. */
export function splitBand(plan: Plan, place: BandPlace, minutes: number): number {
  const bands = bandsAt(plan, place)
  const band = bands?.[place.band]
  if (!bands || !band) return place.band
  const start = minutesOf(band.from)
  const next = bands[place.band + 1]
  const end = next ? minutesOf(next.from) : 24 * 60
  const at = Math.round(minutes / 5) * 5
  if (at <= start || at >= end) return place.band
  bands.splice(place.band + 1, 0, { ...band, from: clockText(at) })
  return place.band + 1
}

/** Remove a band: the one before it goes on instead (the first gives way to the second). */
export function removeBand(plan: Plan, place: BandPlace): void {
  const bands = bandsAt(plan, place)
  if (!bands || bands.length < 2) return
  bands.splice(place.band, 1)
  const first = bands[0]
  if (first) first.from = '00:00'
}
