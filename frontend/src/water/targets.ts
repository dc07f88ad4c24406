import type { Day, ReadyBy, Schedule, WeekAnswer } from '@/api/client'
import { widthOf } from '@/chart/labels'
import type { Scale } from '@/chart/scale'
import { clock, count } from '@/ui/format'

import { rowKey } from '@/plan/rows'

import { rowNow } from './day'
import { asInPool } from './own'

/** What is to be ready by an instant of the chosen day, as it is drawn. */
export interface DayTarget {
  /** The keys of its row and of its kind of day. */
  key: string
  dayType: string
  target: ReadyBy
  at: number
  until: number
  hosts: number
  earliest: number
  latest: number
  zone: string
  /** What came of it, where the week was recorded. */
  told: string
  late: boolean
}

/** What the hand holds of a target, or has just let go. */
export interface HeldTarget {
  key: string
  at?: number
  hosts?: number
}

type Told = WeekAnswer['targets'][number]

/** What came of a target in words. */
export function toldOf(told: Told | undefined): string {
  if (!told || told.ready === null) return ''
  if (told.ready < told.hosts) return `${count(told.ready)} are`
  if (!told.early || told.mean_idle === null) return ''
  const minutes = Math.round(told.mean_idle / 60)
  return minutes ? `empty for ${count(minutes)} min before` : 'empty for less than a minute'
}

/**
 * The targets of a day: what the plan says of them, when the week says that is, and what came of
 * them in the whole week, where that is there. The week was simulated with the schedule `then`.
 */
export function targetsOf(
  schedule: Schedule,
  week: WeekAnswer,
  day: Day,
  whole: WeekAnswer | null,
  held: HeldTarget | null,
  then = schedule,
): DayTarget[] {
  return week.targets.flatMap((each) => {
    if (each.at < day.start || each.at >= day.end) return []
    const before = then.day_types[each.day_type]
    const kind = rowNow(schedule.day_types, before)
    const shared = rowNow(kind?.ready_by, before?.ready_by[each.place])
    if (!kind || !shared) return []
    const key = rowKey(shared)
    const target = asInPool(shared, week.pool)
    const mine = held?.key === key ? held : null
    const came = whole?.targets.find(
      (one) => one.at === each.at && one.place === each.place && one.day_type === each.day_type,
    )
    const told = mine ? '' : toldOf(came)
    // A share of the hosts is worked out by the server.
    const hosts = mine?.hosts ?? (target.share ? each.hosts : target.hosts)
    return [
      {
        key,
        dayType: rowKey(kind),
        target,
        at: mine?.at ?? each.at,
        until: each.until,
        hosts,
        earliest: each.earliest,
        latest: each.latest,
        zone: each.zone,
        told,
        late: told !== '' && came?.ready != null && came.ready < came.hosts,
      },
    ]
  })
}

/** Where a target stands in the picture, in pixels of the plot. */
export interface TargetMark {
  target: DayTarget
  left: number
  right: number
  top: number
  text: string
  width: number
}

export function marksOf(
  targets: readonly DayTarget[],
  x: Scale,
  y: Scale,
  limit: number,
  end: number,
): TargetMark[] {
  return targets.map((target) => {
    const by = clock(target.at, target.zone)
    const text = `${count(target.hosts)} ready by ${by}${target.told ? `, ${target.told}` : ''}`
    return {
      target,
      left: x(target.at),
      right: Math.max(x(Math.min(target.until, end)), x(target.at) + 10),
      top: y(target.hosts * limit),
      text,
      width: widthOf(text),
    }
  })
}
