import { describe, expect, it } from 'vitest'

import type { Day, LoadRule, LoadSeries } from '@/api/client'

import { beyond, looksOf, stepOf, tableOf, topOf, valueWords } from './loads'

const day = { start: 0, end: 1_200, date: '2027-03-01' } as Day
const told = (values: (number | null)[], more: Partial<LoadSeries> = {}): LoadSeries => ({
  id: 'busy',
  signal: 'cpu',
  unit: 'share',
  asks_where_low: false,
  start: 0,
  seconds: 300,
  values,
  extras: values.map((_, k) => k),
  ...more,
})
const rule = (asks_at: number | null, permits_at: number | null) =>
  ({ id: 'busy', asks_at, permits_at }) as LoadRule

describe('the looks of a day', () => {
  it('tell each of the time since the one before, within the day', () => {
    const looks = looksOf(told([0.1, 0.2, null, 0.4, 0.5, 0.6]), day)
    expect(looks.map((look) => [look.from, look.to, look.value])).toEqual([
      [0, 300, 0.2],
      [300, 600, null],
      [600, 900, 0.4],
      [900, 1_200, 0.5],
    ])
    expect(looks.map((look) => look.extra)).toEqual([1, 2, 3, 4])
  })
  it('are cut where the day begins and ends between two', () => {
    const looks = looksOf(told([0.1, 0.2], { start: 100, seconds: 700 }), { ...day, start: 50 })
    expect(looks.map((look) => [look.from, look.to])).toEqual([
      [50, 100],
      [100, 800],
    ])
  })
})

describe('a mark', () => {
  const looks = looksOf(told([0, 0.9, 0.3, 0.9, 0.2]), day)
  it('is passed at the first look beyond it, on the side that counts', () => {
    expect(beyond(looks, 0.5, false, 0)).toBe(300)
    expect(beyond(looks, 0.5, true, 0)).toBe(600)
    expect(beyond(looks, 0.5, true, 600)).toBe(1_200)
    expect(beyond(looks, 2, false, 0)).toBeNull()
  })
  it('has room above it to be dragged', () => {
    expect(topOf(looks, rule(0.8, null))).toBeCloseTo(1.08)
    expect(topOf(looks, rule(1.5, 2))).toBeCloseTo(2.4)
    expect(topOf([], rule(null, null))).toBeGreaterThan(0)
  })
})

it('moves in round steps of its unit', () => {
  expect(stepOf('share', 3)).toBe(0.01)
  expect(stepOf('people', 480)).toBe(5)
  expect(stepOf('s', 90)).toBe(1)
  expect(stepOf('sessions', 8)).toBeCloseTo(0.1)
})

it('says its values in words, and as a table', () => {
  expect(valueWords(0.8, 'share')).toBe('80 %')
  expect(valueWords(60, 's')).toBe('60 s')
  expect(valueWords(4.5, 'sessions')).toBe('4.5 sessions')
  const table = tableOf(told([0.5]), looksOf(told([null, 0.5]), day), 'UTC')
  expect(table.head).toEqual(['until', 'cpu', 'hosts'])
  expect(table.rows).toEqual([['00:05', 0.5, 1]])
})
