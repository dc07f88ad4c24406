import { describe, expect, it } from 'vitest'

import type { Band, ReadyBy } from '@/api/client'

import CASES from '../../../tests/core/plan/own_values.json'
import { asInPool, editOwn, setOwn } from './own'

const band = () =>
  ({
    from: '08:00',
    floor: 9,
    lid: 12,
    rule: 'spread',
    timeouts: { idle: 900, disconnected: 60 },
    exceptions: [],
  }) as unknown as Band
const alone = { pool: 'a', alone: true }
const all = { pool: 'a', alone: false }

describe('what one pool has otherwise', () => {
  it('is set beside what the others have, and seen in that pool only', () => {
    const shared = band()
    setOwn(shared, alone, { floor: 3 })
    expect(shared.floor).toBe(9)
    expect(asInPool(shared, 'a').floor).toBe(3)
    expect(asInPool(shared, 'b')).toBe(shared)
    expect(asInPool(shared, 'a').lid).toBe(12)
  })

  it("stays its own where everybody else is meant, and all else is everybody's", () => {
    const shared = band()
    setOwn(shared, alone, { floor: 3 })
    setOwn(shared, all, { floor: 4, rule: 'fill' })
    expect([shared.floor, asInPool(shared, 'a').floor]).toEqual([9, 4])
    expect([shared.rule, asInPool(shared, 'b').rule]).toEqual(['fill', 'fill'])
  })

  it('goes with its last value', () => {
    const shared = band()
    setOwn(shared, alone, { floor: 3, lid: 5 })
    setOwn(shared, all, { floor: null })
    expect(shared.exceptions).toHaveLength(1)
    setOwn(shared, alone, { lid: null })
    expect(shared.exceptions).toEqual([])
    expect(asInPool(shared, 'a').lid).toBe(12)
  })

  it('is what an edit of the thing as the pool has it changes', () => {
    const shared = band()
    setOwn(shared, alone, { floor: 3 })
    editOwn(shared, all, (mine) => {
      expect(mine.floor).toBe(3)
      mine.floor = 2
      if (mine.timeouts) mine.timeouts.idle = 600
    })
    expect(asInPool(shared, 'a').floor).toBe(2)
    expect([shared.floor, shared.timeouts?.idle]).toEqual([9, 600])
  })

  it('is never what a pool cannot have alone', () => {
    const shared = band()
    setOwn(shared, alone, { timeouts: null })
    expect(shared.timeouts).toBeNull()
    expect(shared.exceptions).toEqual([])
  })

  it('is of a target its hosts and its share', () => {
    const target = { at: '08:00', hosts: 20, share: 0, exceptions: [] } as unknown as ReadyBy
    setOwn(target, alone, { hosts: 8, until: '09:00' })
    expect(asInPool(target, 'a')).toMatchObject({ hosts: 8, until: '09:00' })
    expect(asInPool(target, 'b')).toMatchObject({ hosts: 20, until: '09:00' })
  })

  it('is what the core sees of it', () => {
    for (const { given, exceptions, seen } of CASES)
      for (const [pool, values] of Object.entries(seen)) {
        const own = exceptions as unknown as Band['exceptions']
        const thing = { ...given, exceptions: own } as Partial<Band> as Band
        const expected = Object.entries(values).filter(([name]) => name in given)
        expect(asInPool(thing, pool)).toMatchObject(Object.fromEntries(expected))
      }
  })
})
