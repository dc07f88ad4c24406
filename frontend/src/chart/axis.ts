import { clock, weekdayAt } from '@/ui/format'

/** A place on an axis with what is written there. */
export interface Tick {
  at: number
  text: string
}

const MINUTE = 60
/** Minutes that may lie between two ticks. */
const APART = [1, 2, 5, 10, 15, 30, 60, 120, 180, 240, 360, 720]
/** Pixels that a text and the gap beside it need. */
const ROOM = 38

/** Round local times between two instants, as many as stand in a width without touching. */
export function timeTicks(start: number, end: number, zone: string, width: number): Tick[] {
  const needed = (((end - start) / MINUTE) * ROOM) / Math.max(width, 1)
  const apart = APART.find((each) => each >= needed) ?? 1440
  // Clocks differ by whole quarters of an hour.
  const step = Math.min(apart, 15) * MINUTE
  const ticks: Tick[] = []
  for (let at = Math.ceil(start / step) * step; at <= end; at += step) {
    const text = clock(at, zone)
    const [hours = 0, minutes = 0] = text.split(':').map(Number)
    if ((60 * hours + minutes) % apart === 0) ticks.push({ at, text })
  }
  return ticks
}

/** The ticks with the day named where another date begins between the first and the last. */
export function datedTicks(
  ticks: readonly Tick[],
  start: number,
  end: number,
  zone: string,
): Tick[] {
  return ticks.map(({ at, text }) =>
    text === '00:00' && at > start && at < end
      ? { at, text: `${weekdayAt(at, zone)} ${text}` }
      : { at, text },
  )
}
