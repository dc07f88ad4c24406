import type { Band, Plan } from '@/api/client'

import type { DayPlace } from './day'

/** Where a band lies in a plan. */
export interface BandPlace extends DayPlace {
  band: number
}

export function dayTypeAt(plan: Plan, place: DayPlace) {
  return plan.schedules.find((s) => s.id === place.schedule)?.day_types[place.dayType]
}

export function bandAt(plan: Plan, place: BandPlace): Band | undefined {
  return dayTypeAt(plan, place)?.bands[place.band]
}

/** Change values of a band as they are. */
export function setBand(plan: Plan, place: BandPlace, values: Partial<Band>): void {
  const band = bandAt(plan, place)
  if (band) Object.assign(band, values)
}
