import { describe, expect, it } from 'vitest'

import { digitsOf, readingOf, steppedOf, type Rule } from './typing'

const people: Rule = { kind: 'number', low: 0, high: 100_000, whole: true, step: 1 }
const variation: Rule = { kind: 'number', low: 0, high: 3, whole: false, step: 0.1 }
const share: Rule = { kind: 'number', low: 0.05, high: 1, step: 0.01, scale: 100 }
const minutes: Rule = { kind: 'number', low: 0, high: 7200, whole: true, step: 1, scale: 1 / 60 }

describe('a typed number', () => {
  it.each([
    ['1,200', '1200'],
    ['12,345,678.5', '12345678.5'],
    ['1 200', '1200'],
    ['1\u00a0200', '1200'],
    [' 0.3 ', '0.3'],
    ['.5', '.5'],
    ['−3', '-3'],
  ])('reads %s as the page prints it', (typed, digits) => {
    expect(digitsOf(typed)).toBe(digits)
  })

  it.each(['1,20', '0,3', '12,34,567', '1,2000', '1e3', '0x10', '', 'many', '1.2.3', '1,200,'])(
    'is not guessed from %j',
    (typed) => {
      expect(digitsOf(typed)).toBeNull()
    },
  )

  it('becomes the value of the plan, within its bounds', () => {
    expect(readingOf('1,200', people)).toEqual({ value: 1200 })
    expect(readingOf('95', share)).toEqual({ value: 0.95 })
    expect(readingOf('28.7', share)).toEqual({ value: 0.287 })
    expect(readingOf('1.5', minutes)).toEqual({ value: 90 })
    expect(readingOf('1.33', minutes)).toEqual({ value: 80 })
  })

  it('is refused with its reason', () => {
    expect(readingOf('0,3', variation)).toEqual({ wrong: 'write decimals with a point: 0.3' })
    expect(readingOf('1.5', people)).toEqual({ wrong: 'give a whole number' })
    expect(readingOf('100,001', people)).toEqual({ wrong: 'from 0 to 100000' })
    expect(readingOf('4', share)).toEqual({ wrong: 'from 5 to 100' })
    expect(readingOf('-1', { kind: 'number', low: 0 })).toEqual({ wrong: 'at least 0' })
    expect(readingOf('many', people)).toEqual({ wrong: 'give a number' })
  })
})

describe('other typed values', () => {
  it('keep their own form', () => {
    expect(readingOf('8:45', { kind: 'clock' })).toEqual({ value: '08:45' })
    expect(readingOf('1,200.50', { kind: 'money' })).toEqual({ value: '1200.50' })
    expect(readingOf('never', { kind: 'timeout' })).toEqual({ value: 'never' })
    expect(readingOf('1,440', { kind: 'timeout' })).toEqual({ value: '1440' })
    expect(readingOf(' calm ', { kind: 'text', allowed: ['calm'] })).toEqual({ value: 'calm' })
  })

  it.each<[string, Rule]>([
    ['24:00', { kind: 'clock' }],
    ['-1', { kind: 'money' }],
    ['0,412', { kind: 'money' }],
    ['-5', { kind: 'timeout' }],
    ['wild', { kind: 'text', allowed: ['calm'] }],
    ['  ', { kind: 'text' }],
  ])('refuse %j', (typed, rule) => {
    expect(readingOf(typed, rule)).toHaveProperty('wrong')
  })
})

describe('an arrow key', () => {
  it('moves by the step that is declared', () => {
    expect(steppedOf('0.3', variation, 1)).toBe('0.4')
    expect(steppedOf('0.3', variation, -10)).toBe('0')
    expect(steppedOf('1,200', people, 10)).toBe('1210')
    expect(steppedOf('95', share, 1)).toBe('96')
  })

  it('moves a coarser unit by one of it', () => {
    expect(steppedOf('5', minutes, 1)).toBe('6')
  })

  it('stops at the bounds, and leaves alone what is no number', () => {
    expect(steppedOf('99.5', share, 1)).toBe('100')
    expect(steppedOf('0', people, -1)).toBe('0')
    expect(steppedOf('many', people, 1)).toBe('many')
    expect(steppedOf('08:30', { kind: 'clock' }, 1)).toBe('08:30')
  })
})

describe('a typed date', () => {
  const rule: Rule = { kind: 'date', earliest: '1971-01-01', latest: '2199-12-31' }

  it.each([
    ['2027-03-01', '2027-03-01'],
    ['2027-3-1', '2027-03-01'],
    ['1 March 2027', '2027-03-01'],
    ['29 feb 2028', '2028-02-29'],
    ['31. Dec. 2027', '2027-12-31'],
  ])('%s is %s', (typed, value) => {
    expect(readingOf(typed, rule)).toEqual({ value })
  })

  it.each(['3/1/2027', '01.03.2027', '2027-02-29', '2027-13-01', '30 Foo 2027', '', '2027-03'])(
    'is not guessed from %j',
    (typed) => {
      expect(readingOf(typed, rule)).toEqual({ wrong: 'give a date such as 2027-03-01' })
    },
  )

  it('stays within the dates that can be', () => {
    for (const typed of ['0002-04-05', '1970-12-31', '2200-01-01'])
      expect(readingOf(typed, rule)).toEqual({ wrong: 'from 1971-01-01 to 2199-12-31' })
  })

  it('moves by a day, and by a week with Shift, and no further than it may', () => {
    expect(steppedOf('2027-02-28', rule, 1)).toBe('2027-03-01')
    expect(steppedOf('2027-03-01', rule, -10)).toBe('2027-02-22')
    expect(steppedOf('2199-12-31', rule, 1)).toBe('2199-12-31')
    expect(steppedOf('soon', rule, 1)).toBe('soon')
  })
})
