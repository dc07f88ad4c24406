import { describe, expect, it } from 'vitest'

import type { WeekOfYear } from '@/api/client'
import type { Pen } from '@/chart/pen'

import { drawYear, tableOf, topOf, weekWords } from './year'

const week = (more: Partial<WeekOfYear> = {}): WeekOfYear => ({
  first: '2027-03-01',
  sessions: 100,
  waiting: 0,
  idle_share: 0.25,
  wait_p95: 30,
  unbounded: false,
  refused_share: 0,
  strained_share: 0,
  month: '1234.50',
  kept: true,
  ...more,
})

describe('the weeks of a year', () => {
  it('are drawn as far as they are done, with who waits above', () => {
    const fills: string[] = []
    const pen = { fill: (path: string) => fills.push(path) } as unknown as Pen
    drawYear(pen, [week(), undefined, week({ waiting: 50 })], 300, 60)
    expect(fills).toHaveLength(3)
    expect(topOf([week(), undefined, week({ waiting: 50 })])).toBe(150)
    expect(topOf([undefined])).toBe(8)
  })

  it('say how it was, and what nobody knows', () => {
    expect(weekWords(week(), 'EUR')).toBe(
      'Week of 1 March 2027: 100 sessions, 0 wait at once, 95 % wait 30 s at most, ' +
        '25.0 % unused, €1,235 a month, the promise is kept',
    )
    expect(weekWords(week({ wait_p95: null, unbounded: true, kept: false }), 'EUR')).toContain(
      'more than one of twenty gets no desktop',
    )
    expect(weekWords(week({ wait_p95: null }), 'EUR')).toContain('nobody asks')
  })

  it('are a table of those that are done', () => {
    expect(tableOf([undefined, week()]).rows).toEqual([
      ['2027-03-01', 100, 0, 30, 0.25, '1234.50', 1],
    ])
  })
})
