import { describe, expect, it } from 'vitest'

import type { CrowdGroup, Pattern, Hint } from '@/api/client'

import { takeHints } from '@/help/hints'
import * as edits from './pattern'
import {
  chosenFirst,
  gathered,
  shortened,
  stackOrder,
  stackPaths,
  stackSums,
  stackTop,
} from './stack'

function pattern(): Pattern {
  const leaving = { sign_off: 0.5, disconnect: 0.3, walk_away: 0.2 }
  return {
    id: 'day',
    share: 1,
    attendance: { mon: 1 },
    start: { kind: 'normal', mean: '08:30', sd_minutes: 20 },
    length: { kind: 'normal', mean_minutes: 480, sd_minutes: 30 },
    breaks: [
      {
        probability: 0.8,
        at: '12:00',
        after_minutes: null,
        sd_minutes: 10,
        mean_minutes: 45,
        length_sd_minutes: 5,
        leaving,
      },
    ],
    leaving: { ...leaving },
  } as unknown as Pattern
}
const observed = () =>
  ({
    ...pattern(),
    start: { kind: 'histogram', from: '06:00', step_minutes: 60, weights: [1, 1] },
    length: { kind: 'histogram', from_minutes: 60, step_minutes: 60, weights: [1] },
    breaks: [],
  }) as unknown as Pattern

/** As the server tells of the first: start, end, and its break from 12:00. */
const day = {
  of: pattern(),
  start: 510,
  end: 990,
  breaks: [{ begins: 720, earliest: 510, latest: 945, longest: 90 }],
}

describe('a pattern in the picture of its day', () => {
  it('moves its start in steps of five minutes and stays within the day', () => {
    const p = pattern()
    edits.moveStart(p, day, 522)
    expect(p.start).toMatchObject({ mean: '08:40' })
    edits.moveStart(p, day, -50)
    expect(p.start).toMatchObject({ mean: '00:00' })
    edits.moveStart(p, day, 5000)
    expect(p.start).toMatchObject({ mean: '23:55' })
  })
  it('keeps its start when the end moves, and a least length', () => {
    takeHints([{ path: 'groups.demand.patterns.length.mean_minutes', low: 10 } as Hint])
    const p = pattern()
    edits.moveEnd(p, day, 18 * 60)
    expect(p.length).toMatchObject({ mean_minutes: 570 })
    edits.moveEnd(p, day, 0)
    expect(p.length).toMatchObject({ mean_minutes: 10 })
    takeHints([])
  })
  it('keeps a break in its room, at a clock time or after the start', () => {
    const p = pattern()
    const pause = p.breaks[0]
    if (!pause) throw new Error('no break')
    edits.moveBreak(p, day, 0, 0)
    expect(pause.at).toBe('08:30')
    edits.moveBreak(p, day, 0, 5000)
    expect(pause.at).toBe('15:45')
    pause.after_minutes = 90 as never
    edits.moveBreak(p, day, 0, 633)
    expect(pause.after_minutes).toBe(125)
    edits.stretchBreak(p, day, 0, 900)
    expect(pause.mean_minutes).toBe(90)
    edits.takeBreak(p, 0, 1.7)
    expect(pause.probability).toBe(1)
    edits.moveBreak(p, day, 1, 600)
    expect(p.breaks.length).toBe(1)
  })
  it('stands where its fields have been moved to before the server tells', () => {
    const p = pattern()
    const pause = p.breaks[0]
    if (!pause) throw new Error('no break')
    edits.moveStart(p, day, 540)
    edits.moveEnd(p, day, 1080)
    pause.at = '12:20'
    const stands = () => [edits.startOf(p, day), edits.endOf(p, day), edits.breakAt(p, day, 0)]
    expect(stands()).toEqual([540, 1080, 740])
    const after = { ...day, of: { ...p, breaks: [{ ...pause, after_minutes: 200 as never }] } }
    pause.after_minutes = 230 as never
    expect(edits.breakAt(p, after, 0)).toBe(750)
    p.breaks.push(pause)
    expect(edits.breakAt(p, day, 0)).toBeNull()
    p.start = { kind: 'histogram', from: '06:00', step_minutes: 60, weights: [1] } as never
    expect(edits.startOf(p, day)).toBe(510)
  })
  it('moves what was observed as a whole', () => {
    const p = observed()
    const seen = { of: observed(), start: 420, end: 510, breaks: [] }
    edits.moveStart(p, seen, 480)
    expect(p.start).toMatchObject({ from: '07:00' })
    expect([edits.startOf(p, seen), edits.endOf(p, seen)]).toEqual([480, 570])
    edits.moveEnd(p, seen, 600)
    expect(p.length).toMatchObject({ from_minutes: 90 })
  })
})

describe('ways of leaving', () => {
  it('always add up to one', () => {
    const { leaving } = pattern()
    edits.moveDivider(leaving, 0, 0.3)
    expect(leaving).toEqual({ sign_off: 0.3, disconnect: 0.5, walk_away: 0.2 })
    edits.moveDivider(leaving, 1, 0.1)
    expect(leaving).toEqual({ sign_off: 0.3, disconnect: 0, walk_away: 0.7 })
  })
})

describe('a stack of groups', () => {
  const groups = [
    { id: 'b', peak: 3 },
    { id: 'a', peak: 3 },
    { id: 'c', peak: 9 },
  ] as CrowdGroup[]
  it('is ordered by peak, the chosen one at the bottom', () => {
    expect(stackOrder(groups).map((g) => g.id)).toEqual(['c', 'a', 'b'])
    expect(chosenFirst(stackOrder(groups), 'b').map((g) => g.id)).toEqual(['b', 'c', 'a'])
  })
  it('sums from the bottom and draws a step for every bin', () => {
    const sums = stackSums(
      [
        [1, 2],
        [3, 4],
      ],
      2,
    )
    expect(sums.map((s) => [...s])).toEqual([
      [0, 0],
      [1, 2],
      [4, 6],
    ])
    expect(stackTop(sums)).toBe(6)
    const paths = stackPaths(
      ['x', 'y'],
      sums,
      (v) => v,
      (v) => v,
    )
    expect(paths.map((p) => p.id)).toEqual(['x', 'y'])
    expect(paths[1]?.path).toContain('6')
  })
  it('gathers bins, the last ones too', () => {
    expect(gathered([1, 2, 3, 4, 5], 2)).toEqual([3, 7, 5])
    expect(shortened('October Bank Holiday', 9)).toBe('October…')
  })
})
