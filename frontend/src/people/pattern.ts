import type { Break, Leaving, Pattern } from '@/api/client'
import { minutesOf } from '@/board/day'

export const WAYS = ['sign_off', 'disconnect', 'walk_away'] as const
export type Way = (typeof WAYS)[number]

const DAY = 24 * 60
const STEP = 5

/** A clock time from minutes of any day. */
export function clockOf(minutes: number): string {
  const within = ((Math.round(minutes) % DAY) + DAY) % DAY
  return `${String(Math.floor(within / 60)).padStart(2, '0')}:${String(within % 60).padStart(2, '0')}`
}

const snapped = (minutes: number) => Math.round(minutes / STEP) * STEP
const within = (low: number, value: number, high: number) => Math.max(low, Math.min(value, high))

/** Mean of a histogram in minutes from its beginning. */
function meanOf(weights: readonly number[], step: number): number {
  const total = weights.reduce((sum, w) => sum + w, 0)
  return total ? weights.reduce((sum, w, k) => sum + w * (k + 0.5) * step, 0) / total : 0
}

/** When people start on average, in minutes of the day. */
export function startOf(pattern: Pattern): number {
  const start = pattern.start
  return start.kind === 'histogram'
    ? minutesOf(start.from) + meanOf(start.weights, start.step_minutes)
    : minutesOf(start.mean)
}

/** How long they stay on average, in minutes. */
export function lengthOf(pattern: Pattern): number {
  const length = pattern.length
  return length.kind === 'histogram'
    ? length.from_minutes + meanOf(length.weights, length.step_minutes)
    : length.mean_minutes
}

/** From when to when anybody may be there, in minutes of the day. */
export function reachOf(pattern: Pattern): [number, number] {
  const { start, length } = pattern
  const first =
    start.kind === 'histogram' ? minutesOf(start.from) : startOf(pattern) - 3 * start.sd_minutes
  const latest =
    start.kind === 'histogram'
      ? first + start.step_minutes * start.weights.length
      : startOf(pattern)
  const longest =
    length.kind === 'histogram'
      ? length.from_minutes + length.step_minutes * length.weights.length
      : length.mean_minutes + 2 * length.sd_minutes
  return [first, latest + longest]
}

/** When a break begins on average, in minutes from the day's 00:00; past 1,440 is the next day. */
export function breakStart(pattern: Pattern, pause: Break): number {
  const start = startOf(pattern)
  if (pause.after_minutes !== null) return start + pause.after_minutes
  const at = minutesOf(pause.at ?? '12:00')
  return at < start ? at + DAY : at
}

export function moveStart(pattern: Pattern, minutes: number): void {
  if (pattern.start.kind === 'histogram') {
    const from = minutesOf(pattern.start.from) + snapped(minutes - startOf(pattern))
    pattern.start.from = clockOf(within(0, from, DAY - STEP))
  } else pattern.start.mean = clockOf(within(0, snapped(minutes), DAY - STEP))
}

export function spreadStart(pattern: Pattern, minutes: number): void {
  if (pattern.start.kind !== 'histogram') {
    pattern.start.sd_minutes = within(0, Math.round(minutes), 360)
  }
}

export function moveEnd(pattern: Pattern, minutes: number): void {
  const wanted = minutes - startOf(pattern)
  if (pattern.length.kind === 'histogram') {
    const { from_minutes } = pattern.length
    const moved = snapped(from_minutes + wanted - lengthOf(pattern))
    pattern.length.from_minutes = within(0, moved, DAY)
  } else pattern.length.mean_minutes = within(10, snapped(wanted), DAY)
}

export function spreadLength(pattern: Pattern, minutes: number): void {
  if (pattern.length.kind !== 'histogram') {
    pattern.length.sd_minutes = within(0, Math.round(minutes), 360)
  }
}

/** Between what minutes a break may begin: after the one before it, before the one after it. */
export function breakRoom(pattern: Pattern, index: number): [number, number] {
  const before = pattern.breaks[index - 1]
  const after = pattern.breaks[index + 1]
  const own = pattern.breaks[index]?.mean_minutes ?? 0
  const low = before ? breakStart(pattern, before) + before.mean_minutes : startOf(pattern)
  const high = (after ? breakStart(pattern, after) : startOf(pattern) + lengthOf(pattern)) - own
  return [Math.ceil(low / STEP) * STEP, Math.max(low, Math.floor(high / STEP) * STEP)]
}

export function moveBreak(pattern: Pattern, index: number, minutes: number): void {
  const pause = pattern.breaks[index]
  if (!pause) return
  const [low, high] = breakRoom(pattern, index)
  const at = within(low, snapped(minutes), high)
  if (pause.after_minutes !== null) pause.after_minutes = within(1, at - startOf(pattern), DAY)
  else pause.at = clockOf(at)
}

export function stretchBreak(pattern: Pattern, index: number, minutes: number): void {
  const pause = pattern.breaks[index]
  if (!pause) return
  const after = pattern.breaks[index + 1]
  const room = (after ? breakStart(pattern, after) : DAY * 2) - breakStart(pattern, pause)
  pause.mean_minutes = within(STEP, snapped(minutes), Math.min(720, room))
}

export function takeBreak(pattern: Pattern, index: number, share: number): void {
  const pause = pattern.breaks[index]
  if (pause) pause.probability = within(0, Math.round(share * 100) / 100, 1)
}

/** Add a break in the longest stretch without one. */
export function addBreak(pattern: Pattern): void {
  const begin = startOf(pattern)
  const end = begin + lengthOf(pattern)
  const edges = [begin, ...pattern.breaks.map((b) => breakStart(pattern, b)), end]
  let place = 0
  for (let k = 1; k < edges.length - 1; k += 1) {
    const gap = (edges[k + 1] ?? 0) - (edges[k] ?? 0)
    if (gap > (edges[place + 1] ?? 0) - (edges[place] ?? 0)) place = k
  }
  const middle = ((edges[place] ?? 0) + (edges[place + 1] ?? 0)) / 2
  pattern.breaks.splice(place, 0, {
    probability: 0.8,
    at: clockOf(snapped(middle)),
    after_minutes: null,
    sd_minutes: 15,
    mean_minutes: 30,
    length_sd_minutes: 8,
    leaving: { sign_off: 0, disconnect: 0.3, walk_away: 0.7 },
  })
}

/** Set one way of leaving; the others share what is left as they did before. */
export function setLeaving(leaving: Leaving, way: Way, value: number): void {
  const others = WAYS.filter((each) => each !== way)
  const rest = others.reduce((sum, each) => sum + leaving[each], 0)
  leaving[way] = within(0, Math.round(value * 1e6) / 1e6, 1)
  for (const each of others) {
    const part = rest > 0 ? leaving[each] / rest : 0.5
    leaving[each] = Math.round((1 - leaving[way]) * part * 1e6) / 1e6
  }
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
