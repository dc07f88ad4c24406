import { describe, expect, it } from 'vitest'

import type { CrowdGroup, Pattern } from '@/api/client'

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

describe('a pattern in the picture of its day', () => {
  it('moves its start in steps of five minutes and stays within the day', () => {
    const p = pattern()
    edits.moveStart(p, 522)
    expect(p.start).toMatchObject({ mean: '08:40' })
    edits.moveStart(p, -50)
    expect(p.start).toMatchObject({ mean: '00:00' })
    edits.moveStart(p, 5000)
    expect(p.start).toMatchObject({ mean: '23:55' })
  })
  it('keeps its start when the end moves, and a least length', () => {
    const p = pattern()
    edits.moveEnd(p, 18 * 60)
    expect(edits.lengthOf(p)).toBe(570)
    edits.moveEnd(p, 0)
    expect(edits.lengthOf(p)).toBe(10)
  })
  it('keeps breaks inside the day and apart from each other', () => {
    const p = pattern()
    edits.addBreak(p)
    expect(p.breaks.map((b) => b.at)).toEqual(['12:00', '14:15'])
    edits.moveBreak(p, 1, 11 * 60)
    expect(p.breaks[1]?.at).toBe('12:45')
    edits.moveBreak(p, 0, 0)
    expect(p.breaks[0]?.at).toBe('08:30')
    edits.stretchBreak(p, 0, 900)
    expect(p.breaks[0]?.mean_minutes).toBe(255)
    edits.takeBreak(p, 0, 1.7)
    expect(p.breaks[0]?.probability).toBe(1)
  })
  it('knows a break after midnight and one that follows the start', () => {
    const p = pattern()
    const pause = p.breaks[0]
    if (!pause) throw new Error('no break')
    edits.moveStart(p, 22 * 60)
    pause.at = '02:00'
    expect(edits.breakStart(p, pause)).toBe(26 * 60)
    pause.after_minutes = 90 as never
    expect(edits.breakStart(p, pause)).toBe(23.5 * 60)
    edits.moveBreak(p, 0, 24 * 60)
    expect(pause.after_minutes).toBe(120)
  })
  it('moves what was observed as a whole', () => {
    const p = observed()
    expect([edits.startOf(p), edits.lengthOf(p)]).toEqual([420, 90])
    expect(edits.reachOf(p)).toEqual([360, 600])
    edits.moveStart(p, 480)
    expect(p.start).toMatchObject({ from: '07:00' })
    edits.moveEnd(p, 480 + 120)
    expect(p.length).toMatchObject({ from_minutes: 90 })
  })
})

describe('ways of leaving', () => {
  it('always add up to one', () => {
    const { leaving } = pattern()
    edits.setLeaving(leaving, 'sign_off', 0.9)
    expect(leaving).toEqual({ sign_off: 0.9, disconnect: 0.06, walk_away: 0.04 })
    edits.moveDivider(leaving, 0, 0.2)
    expect(leaving).toEqual({ sign_off: 0.2, disconnect: 0.76, walk_away: 0.04 })
    edits.moveDivider(leaving, 1, 0.1)
    expect(leaving).toEqual({ sign_off: 0.2, disconnect: 0, walk_away: 0.8 })
    edits.setLeaving(leaving, 'walk_away', 1)
    edits.setLeaving(leaving, 'walk_away', 0.5)
    expect(leaving).toEqual({ sign_off: 0.25, disconnect: 0.25, walk_away: 0.5 })
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
