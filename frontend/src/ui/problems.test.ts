import { describe, expect, it } from 'vitest'

import { UNREACHABLE } from '@/api/client'

import { unlike } from './problems'

describe('a problem beside another one', () => {
  it('is shown unless the other one says the same', () => {
    const full = { ...UNREACHABLE, type: '/problems/full' }
    expect(unlike(UNREACHABLE, { ...UNREACHABLE })).toBeNull()
    expect(unlike(UNREACHABLE, full)).toBe(UNREACHABLE)
    expect(unlike(UNREACHABLE, { ...UNREACHABLE, detail: 'another' })).toBe(UNREACHABLE)
    expect(unlike(UNREACHABLE, null)).toBe(UNREACHABLE)
    expect(unlike(null, UNREACHABLE)).toBeNull()
  })
})
