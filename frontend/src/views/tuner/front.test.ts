import { describe, expect, it } from 'vitest'

import { freeHeight, linesTo } from './front'

describe('the picture of a study', () => {
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
