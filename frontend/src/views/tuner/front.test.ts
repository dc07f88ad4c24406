import { describe, expect, it } from 'vitest'

import { freeHeight, linesIn, linesTo, outside, spanOf } from './front'

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
    expect(linesIn([18, 21.5])).toEqual([18, 19, 20, 21])
    expect(linesIn([3005, 3310])).toEqual([3100, 3200, 3300])
  })
})

describe('what the picture shows', () => {
  const at = (money: number, across: number | null, look = 'kept') => ({ look, money, across })
  it('is where the choice is; what is far from it stands at the edge', () => {
    const marks = [
      at(3000, 90),
      at(3400, 40),
      at(9000, 20),
      at(9900, 19, 'rule'),
      at(3500, null, 'today'),
    ]
    const { money, across } = spanOf(marks, 180)
    expect(money[0]).toBeGreaterThan(2500)
    expect(money[1]).toBeLessThan(4000)
    expect(outside(9000, money) && outside(9900, money)).toBe(true)
    expect(outside(3500, money)).toBe(false)
    expect(outside(40, across) || outside(90, across)).toBe(false)
  })
  it('is everything where nothing is found yet', () => {
    const { money, across } = spanOf([at(500, 60, 'today')], 60)
    expect(outside(500, money) || outside(60, across)).toBe(false)
  })
})
