import { describe, expect, it } from 'vitest'

import { duration, meanOf, share } from './format'

describe('a duration', () => {
  it.each([
    [0.25, '0.3 s'],
    [9.97, '10 s'],
    [99.4, '99 s'],
    [99.6, '1 min 40 s'],
    [119.7, '2 min 00 s'],
    [3599.6, '1 h 00 min'],
    [-119.7, '−2 min 00 s'],
  ])('of %d s carries what it rounds', (seconds, said) => {
    expect(duration(seconds)).toBe(said)
  })
})

describe('a figure', () => {
  const figure = { mean: 0.25, low: null, high: null, unbounded: false }

  it('is told, or that it has no bound, or that it is not known', () => {
    expect(meanOf(figure, share)).toBe('25.0 %')
    expect(meanOf({ ...figure, unbounded: true }, share)).toBe('no bound')
    expect(meanOf({ ...figure, mean: null }, share)).toBe('–')
    expect(meanOf({ ...figure, mean: null }, share, 'nobody asked')).toBe('nobody asked')
    expect(meanOf({ ...figure, mean: 0 }, share)).toBe('0.0 %')
  })
})
