import type { Band, LoadRule, Plan, ReadyBy } from '@/api/client'

import type { DayPlace } from './day'
import { setOwn, type Whose } from './own'

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

/** Change values of a target of a kind of day. */
export function setTarget(
  plan: Plan,
  place: DayPlace,
  k: number,
  whose: Whose,
  values: Partial<ReadyBy>,
): void {
  const found = dayTypeAt(plan, place)?.ready_by[k]
  if (found) setOwn(found as ReadyBy, whose, values)
}

/** Change a load rule of a schedule. */
export function changeLoadRule(
  plan: Plan,
  schedule: string,
  id: string,
  edit: (rule: LoadRule) => void,
): void {
  const found = plan.schedules.find((each) => each.id === schedule)
  const rule = found?.load_rules.find((each) => each.id === id)
  if (rule) edit(rule as LoadRule)
}

/** Change values of a band as they are. */
export function setBand(plan: Plan, place: BandPlace, whose: Whose, values: Partial<Band>): void {
  const band = bandAt(plan, place)
  if (band) setOwn(band, whose, values)
}
