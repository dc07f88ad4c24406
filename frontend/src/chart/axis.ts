import { clock } from '@/ui/format'

/** A place on an axis with what is written there. */
export interface Tick {
  at: number
  text: string
}

const HOUR = 3600

/** Full local hours between two instants, every so many of them by the local clock. */
export function hourTicks(start: number, end: number, zone: string, every: number): Tick[] {
  const ticks: Tick[] = []
  for (let at = Math.ceil(start / HOUR) * HOUR; at <= end; at += HOUR) {
    const text = clock(at, zone)
    if (Number(text.slice(0, 2)) % every === 0) ticks.push({ at, text })
  }
  return ticks
}

/** How many hours lie between two ticks so that their texts do not touch. */
export function hoursBetween(hours: number, width: number): number {
  const needed = (hours * 38) / Math.max(width, 1)
  return [1, 2, 3, 4, 6, 12].find((each) => each >= needed) ?? 24
}
