import { describe, expect, it } from 'vitest'

import { linear } from './scale'

describe('a linear scale', () => {
  it('leads from values to pixels and back', () => {
    const up = linear([0, 40], [200, 0])
    expect(up(0)).toBe(200)
    expect(up(10)).toBe(150)
    expect(up(-10)).toBe(250)
    expect(up.invert(150)).toBe(10)
    expect(up.ticks(4)).toEqual([0, 10, 20, 30, 40])
  })

  it('stands in the middle where its span has no length', () => {
    expect(linear([3, 3], [0, 100])(3)).toBe(50)
    expect(linear([0, 1], [7, 7]).invert(7)).toBe(0.5)
  })
})
