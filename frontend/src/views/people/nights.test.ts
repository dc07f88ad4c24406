import { expect, it } from 'vitest'

import { atNight, clockHours, shownAt } from './nights'

const at = (hours: Record<number, number>) => Array.from({ length: 24 }, (_, h) => hours[h] ?? 0)
const day = (date: string, hours: Record<number, number>) => ({
  date,
  hours: at(hours),
  peak: 0,
  marks: [],
})

it('begins a day at noon where people work across midnight and hardly by day', () => {
  expect(atNight([at({ 23: 30, 0: 40, 12: 3 })])).toBe(true)
  expect(atNight([at({ 9: 100, 12: 80 })])).toBe(false)
  expect(atNight([at({ 23: 40, 0: 40, 12: 40 })])).toBe(false)
  expect(atNight([at({ 23: 40 })])).toBe(false)
  expect(atNight([])).toBe(false)
})

it('shows the second half of a night with the day it began on', () => {
  const days = [day('2027-01-04', { 22: 7 }), day('2027-01-05', { 2: 9 })]
  const rows = clockHours(true)
  expect(rows[0]).toBe(12)
  expect(shownAt(days, 0, rows.indexOf(22), true)).toBe(7)
  expect(shownAt(days, 0, rows.indexOf(2), true)).toBe(9)
  expect(shownAt(days, 1, rows.indexOf(2), true)).toBeNull()
  expect(shownAt(days, 0, 22, false)).toBe(7)
})
