import type { Day, WeekAnswer } from '@/api/client'
import type { Pen } from '@/chart/pen'
import type { Scale } from '@/chart/scale'
import { clock, count, duration } from '@/ui/format'

import { INKS } from './water'

/** The logons of five minutes in which somebody waited; seconds, -1 where they have no bound. */
export interface Wait {
  at: number
  asked: number
  waited: number
  median: number
  longest: number
}

/** The waits of a day, in order. */
export function waitsOf(week: WeekAnswer, day: Day): Wait[] {
  const { logons } = week
  const found: Wait[] = []
  logons.at.forEach((at, k) => {
    if (at < day.start || at >= day.end) return
    found.push({
      at,
      asked: logons.asked[k] ?? 0,
      waited: logons.waited[k] ?? 0,
      median: logons.median[k] ?? 0,
      longest: logons.longest[k] ?? 0,
    })
  })
  return found
}

const ROUND = [1, 2, 3, 5, 8, 12, 20, 30, 45, 60, 90, 120, 180, 300, 480, 720, 1440]

/** The longest wait that the strip's scale holds, in seconds of round minutes. */
export function scaleOf(waits: readonly Wait[]): number {
  const longest = waits.reduce((most, wait) => Math.max(most, wait.longest, wait.median), 0) / 60
  return 60 * (ROUND.find((each) => each >= longest) ?? Math.ceil(longest / 1440) * 1440)
}

/** How high the row is that says which share of the logons waited. */
const SHARE = 9
const BETWEEN = 3

/** Draw the strip: which share waited, and under it how long, hanging from a line of its own. */
export function drawWaits(
  pen: Pen,
  waits: readonly Wait[],
  x: Scale,
  seconds: number,
  height: number,
): void {
  const most = scaleOf(waits)
  const deep = height - SHARE - BETWEEN
  const depth = (wait: number) => (wait < 0 ? 1 : wait / most) * deep
  for (const wait of waits) {
    const left = x(wait.at)
    const wide = Math.max(x(wait.at + seconds) - left - 0.4, 1)
    const part = SHARE * (wait.waited / Math.max(wait.asked, 1))
    pen.box(left, 0, wide, SHARE, { colour: '--buoy-wash' })
    pen.box(left, SHARE - part, wide, part, { colour: '--buoy', alpha: 0.85 })
    pen.box(left, SHARE + BETWEEN, wide, depth(wait.longest), { colour: '--buoy', alpha: 0.32 })
    const middle = depth(wait.median)
    pen.box(left, SHARE + BETWEEN, wide, middle, { colour: '--buoy', alpha: 0.85 })
    pen.box(left, SHARE + BETWEEN, wide, middle, INKS.flood[1])
  }
}

const long = (seconds: number) => (seconds < 0 ? 'without end' : duration(seconds))

/** What the strip says of five minutes. */
export function waitWords(wait: Wait, zone: string): string {
  return (
    `${clock(wait.at, zone)} · ${count(wait.waited)} of ${count(wait.asked)} who asked waited, ` +
    `half of them ${long(wait.median)} or longer, at most ${long(wait.longest)}`
  )
}

/** The wait nearest to an instant, within so many seconds. */
export function nearest(waits: readonly Wait[], instant: number, within: number): Wait | null {
  let found: Wait | null = null
  for (const wait of waits) {
    const off = Math.abs(wait.at - instant)
    if (off <= within && (!found || off < Math.abs(found.at - instant))) found = wait
  }
  return found
}
