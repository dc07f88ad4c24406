import type { Leaving, Pattern, PatternAnswer } from '@/api/client'
import { minutesOf } from '@/water/day'
import { PLAN } from '@/plan/lens'

export const WAYS = ['sign_off', 'disconnect', 'walk_away'] as const
export type Way = (typeof WAYS)[number]

const DAY = 24 * 60
const STEP = 5
const PATTERNS = PLAN.field('groups.demand.patterns')

/** What is declared of a pattern's numbers: between which values they may be. */
export function boundsOf(field: string): { low: number; high: number } {
  const { low = -Infinity, high = Infinity } = PATTERNS.field(field).bounds
  return { low, high }
}
/** A value within what is declared of its field. */
function allowed(field: string, value: number): number {
  const { low, high } = boundsOf(field)
  return within(low, value, high)
}

/**
 * Where the day of a pattern stands, in minutes, as the server tells: its means, and the room of its
 * breaks. What has been moved since stands as much further as its field does.
 */
export type PatternDay = Pick<PatternAnswer, 'start' | 'end' | 'breaks'> & { of: Pattern }

/** A clock time from minutes of any day. */
export function clockOf(minutes: number): string {
  const within = ((Math.round(minutes) % DAY) + DAY) % DAY
  return `${String(Math.floor(within / 60)).padStart(2, '0')}:${String(within % 60).padStart(2, '0')}`
}

const snapped = (minutes: number) => Math.round(minutes / STEP) * STEP
const within = (low: number, value: number, high: number) => Math.max(low, Math.min(value, high))

const startField = ({ start }: Pattern) =>
  minutesOf(start.kind === 'histogram' ? start.from : start.mean)
const lengthField = ({ length }: Pattern) =>
  length.kind === 'histogram' ? length.from_minutes : length.mean_minutes

function startMoved(pattern: Pattern, { of }: PatternDay): number {
  return of.start.kind === pattern.start.kind ? startField(pattern) - startField(of) : 0
}

/** When people start on average. */
export function startOf(pattern: Pattern, day: PatternDay): number {
  return day.start + startMoved(pattern, day)
}

/** When they leave on average. */
export function endOf(pattern: Pattern, day: PatternDay): number {
  const same = day.of.length.kind === pattern.length.kind
  const longer = same ? lengthField(pattern) - lengthField(day.of) : 0
  return day.end + startMoved(pattern, day) + longer
}

/** When a break begins on average; nothing is known of a new one yet. */
export function breakAt(pattern: Pattern, day: PatternDay, index: number): number | null {
  const [pause, was, told] = [pattern.breaks[index], day.of.breaks[index], day.breaks[index]]
  if (!pause || !was || !told || pattern.breaks.length !== day.of.breaks.length) return null
  if (pause.after_minutes !== null && was.after_minutes !== null)
    return told.begins + startMoved(pattern, day) + pause.after_minutes - was.after_minutes
  if (pause.at && was.at) return told.begins + minutesOf(pause.at) - minutesOf(was.at)
  return told.begins
}

/** Of an observed spread all of it moves: from where the day stood when it was taken. */
export function moveStart(pattern: Pattern, day: PatternDay, minutes: number): void {
  if (pattern.start.kind === 'histogram') {
    const from = minutesOf(pattern.start.from) + snapped(minutes - startOf(pattern, day))
    pattern.start.from = clockOf(within(0, from, DAY - STEP))
  } else pattern.start.mean = clockOf(within(0, snapped(minutes), DAY - STEP))
}

export function spreadStart(pattern: Pattern, minutes: number): void {
  if (pattern.start.kind !== 'histogram') {
    pattern.start.sd_minutes = allowed('start.sd_minutes', Math.round(minutes))
  }
}

export function moveEnd(pattern: Pattern, day: PatternDay, minutes: number): void {
  if (pattern.length.kind === 'histogram') {
    const moved = snapped(pattern.length.from_minutes + minutes - endOf(pattern, day))
    pattern.length.from_minutes = within(0, moved, DAY)
  } else
    pattern.length.mean_minutes = allowed(
      'length.mean_minutes',
      snapped(minutes - startOf(pattern, day)),
    )
}

export function spreadLength(pattern: Pattern, minutes: number): void {
  if (pattern.length.kind !== 'histogram') {
    pattern.length.sd_minutes = allowed('length.sd_minutes', Math.round(minutes))
  }
}

export function moveBreak(pattern: Pattern, day: PatternDay, index: number, minutes: number): void {
  const [pause, room] = [pattern.breaks[index], day.breaks[index]]
  if (!pause || !room) return
  const at = within(room.earliest, snapped(minutes), room.latest)
  if (pause.after_minutes !== null)
    pause.after_minutes = allowed('breaks.after_minutes', at - startOf(pattern, day))
  else pause.at = clockOf(at)
}

export function stretchBreak(
  pattern: Pattern,
  day: PatternDay,
  index: number,
  minutes: number,
): void {
  const [pause, room] = [pattern.breaks[index], day.breaks[index]]
  if (pause && room)
    pause.mean_minutes = allowed(
      'breaks.mean_minutes',
      within(STEP, snapped(minutes), room.longest),
    )
}

export function takeBreak(pattern: Pattern, index: number, share: number): void {
  const pause = pattern.breaks[index]
  if (pause) pause.probability = within(0, Math.round(share * 100) / 100, 1)
}

/** Move the divider between two ways of leaving: 0 lies after signing off, 1 after disconnecting. */
export function moveDivider(leaving: Leaving, divider: 0 | 1, at: number): void {
  const to = Math.round(within(0, at, 1) * 100) / 100
  if (divider === 0) {
    const stays = Math.min(to, 1 - leaving.walk_away)
    leaving.sign_off = stays
    leaving.disconnect = Math.round((1 - leaving.walk_away - stays) * 1e6) / 1e6
  } else {
    const until = Math.max(to, leaving.sign_off)
    leaving.walk_away = Math.round((1 - until) * 1e6) / 1e6
    leaving.disconnect = Math.round((until - leaving.sign_off) * 1e6) / 1e6
  }
}
