import type { Band, DayType, LoadRule, ReadyBy } from '@/api/client'
import { Lens, PLAN } from '@/plan/lens'

import type { DayPlace } from '@/water/day'
import { asInPool, editOwn, setOwn, type Whose } from '@/water/own'

/** Where a band lies in a plan: its schedule by id, kind of day and band by the keys of their rows. */
export interface BandPlace extends DayPlace {
  band: string
}

const scheduleAt = (id: string) => PLAN.at('schedules').item(id)

export const dayTypeAt = (place: DayPlace): Lens<DayType> =>
  scheduleAt(place.schedule).at('day_types').row(place.dayType)

export const bandAt = (place: BandPlace): Lens<Band> =>
  dayTypeAt(place).at('bands').row(place.band)

export const targetAt = (place: DayPlace, target: string): Lens<ReadyBy> =>
  dayTypeAt(place).at('ready_by').row(target)

export const loadRuleAt = (schedule: string, rule: string): Lens<LoadRule> =>
  scheduleAt(schedule).at('load_rules').item(rule)

/** A band or a target as one pool has it: what is changed is the pool's alone, or everybody's. */
export function inPool<T extends Band | ReadyBy>(shared: Lens<T>, whose: Whose): Lens<T> {
  return new Lens<T>({
    path: shared.path,
    read: (plan) => {
      const thing = shared.read(plan)
      return thing && asInPool(thing, whose.pool)
    },
    write: (plan, values) => {
      shared.edit(plan, (thing) => {
        setOwn(thing, whose, { ...values })
      })
    },
    edit: (plan, change) => {
      shared.edit(plan, (thing) => {
        editOwn(thing, whose, change)
      })
    },
    remove: (plan) => {
      shared.remove(plan)
    },
  })
}
