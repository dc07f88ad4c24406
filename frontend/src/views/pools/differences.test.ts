import { describe, expect, it } from 'vitest'

import { differencesOf } from './differences'

describe('differences', () => {
  it('name nested fields and count lists', () => {
    const one = { a: 1, b: { c: null, d: [1, 2] }, e: [{ x: 1 }] }
    const other = { a: 1, b: { c: 4, d: [1] }, e: [] }
    expect(differencesOf(one, other)).toEqual([
      { field: 'b.c', one: 'none', other: '4' },
      { field: 'b.d', one: '1, 2', other: '1' },
      { field: 'e', one: '1 entries', other: 'none' },
    ])
  })
})
