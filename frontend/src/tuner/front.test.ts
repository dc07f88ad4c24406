import { describe, expect, it } from 'vitest'

import type { Study } from '@/api/client'

import { firstOf, freeHeight, isToday, linesTo, marksOf } from './front'

const about = (mean: number | null, unbounded = false) => ({ mean, half: null, unbounded })
const point = (name: string, money: number, wait: number | null, standing = 'kept') => ({
  name,
  money: about(money),
  wait_p95: about(wait, wait === null),
  standing,
})
const study = (answer: object | null, so_far: object | null = null) =>
  ({ question: { axis: 'wait_p95_seconds' }, answer, so_far }) as unknown as Study

describe('the picture of a study', () => {
  it('has the plan of today first and what was tuned last', () => {
    const marks = marksOf(
      study({
        current: point('today', 500, 90, 'broken'),
        rules: [point('always on', 900, 20)],
        front: [point('', 300, null, 'broken'), point('', 400, 40)],
        tuned: point('tuned', 401, 41),
      }),
    )
    expect(marks.map((each) => each.look)).toEqual(['today', 'rule', 'broken', 'kept', 'tuned'])
    expect(marks[2]?.across).toBeNull()
    expect(marks.at(-1)?.money).toBe(401)
  })
  it('shows what was found so far while there is no answer', () => {
    const marks = marksOf(
      study(null, {
        points: [
          { money: 300, axis: 50, keeps: true },
          { money: 2, axis: 9, keeps: false },
        ],
      }),
    )
    expect(marks.map((each) => each.look)).toEqual(['search', 'broken'])
    expect(marksOf(study(null))).toEqual([])
  })
  it('has what was tuned looked at first, else what comes nearest', () => {
    const first = (answer: object) => firstOf(answer as NonNullable<Study['answer']>)
    expect(first({ tuned: point('tuned', 1, 1), nearest: null })).toBe('tuned')
    expect(first({ tuned: null, nearest: 2 })).toBe('front-2')
    expect(first({ tuned: null, nearest: null })).toBe('today')
  })
  it('knows which point is the plan of today', () => {
    const settings = { pool: { id: 'a', idle: 900 }, schedule: { id: 's' } }
    const current = { ...point('today', 500, 90), ...settings }
    const today = (other: object) =>
      isToday(
        { ...current, ...other } as unknown as Parameters<typeof isToday>[0],
        { current } as unknown as NonNullable<Study['answer']>,
      )
    expect(today(point('tuned', 499, 80))).toBe(true)
    expect(today({ pool: { id: 'a', idle: 600 } })).toBe(false)
    expect(today({ schedule: { id: 's', tick: 5 } })).toBe(false)
  })
  it('moves names apart, up or down, within the picture', () => {
    expect(freeHeight(50, [], 14, [10, 90])).toBe(50)
    expect(freeHeight(50, [50], 14, [10, 90])).toBe(36)
    expect(freeHeight(50, [50, 36], 14, [10, 90])).toBe(64)
    expect(freeHeight(15, [15], 14, [10, 90])).toBe(29)
    expect(freeHeight(15, [15, 29, 43], 14, [10, 90])).toBe(57)
    expect(freeHeight(15, [15, 29], 14, [10, 30])).toBe(15)
  })
  it('draws lines at round numbers', () => {
    expect(linesTo(87)).toEqual([0, 20, 40, 60, 80])
    expect(linesTo(0.004)).toHaveLength(5)
    expect(linesTo(0)).toEqual([0])
  })
})
