import { describe, expect, it } from 'vitest'

import type { Study } from '@/api/client'

import { firstOf, linesTo, marksOf } from './front'

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
  it('draws lines at round numbers', () => {
    expect(linesTo(87)).toEqual([0, 20, 40, 60, 80])
    expect(linesTo(0.004)).toHaveLength(5)
    expect(linesTo(0)).toEqual([0])
  })
})
