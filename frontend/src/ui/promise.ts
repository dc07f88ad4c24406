import type { Promised, Standing, Verdicts } from '@/api/client'
import DECLARED from '@/api/declared.json'
import { duration, share } from '@/ui/format'

/** A part of the promise, as the core declares it. */
export interface PromisePart {
  /** The plan's field with its limit. */
  field: keyof Promised
  short: string
  title: string
  head: string
  spoken: string
  /** What stands before and after the limit where the promise is told. */
  sentence: [string, string]
  /** What is shown where nobody could feel it. */
  nobody: string
  /** Seconds; a share otherwise. */
  timed: boolean
  /** The least there may be is promised, not the most. */
  least: boolean
  meaning: string
  /** Whether a plan may promise nothing of it. */
  optional: boolean
  /** The limit of a plan that says nothing else. */
  usual: number
}

/** All parts of the promise, in the order in which they are told. */
export const PARTS = DECLARED.promise as PromisePart[]

/** The parts that have a limit. */
export function promised(verdicts: Verdicts): PromisePart[] {
  return PARTS.filter(({ field }) => verdicts[field].limit !== null)
}

/** How a figure of a part is written. */
export function sayPart(part: PromisePart): (value: number) => string {
  return part.timed ? duration : share
}

/** How a standing looks: the class of its colour, and its mark for those who see none. */
export const STANDING_LOOK: Record<Standing, string> = { kept: 'good', 'at risk': 'risk', broken: 'bad' }
export const STANDING_MARK: Record<Standing, string> = { kept: '✓', 'at risk': '?', broken: '✕' }
