import { describe, expect, it } from 'vitest'

import type { Plan, SizeModel } from '@/api/client'
import { lensAt } from '@/plan/lens'
import { routeTo } from '@/views/checks/places'
import { differencesOf } from '@/views/pools/differences'

import { curvesOf, namesOf } from './density'

const size = (curves: Record<string, (number | null)[]>, by: Record<string, number | null>) =>
  ({ curves, by_resource: by, binding: 'cpu', sessions: 2 }) as unknown as SizeModel

describe('curves', () => {
  it('leave the picture between two counts of sessions', () => {
    const [curve] = curvesOf(size({ cpu: [0.5, 1.0, 1.8] }, { cpu: 2 }), 1.4)
    expect(curve?.points.map((p) => p.n)).toEqual([1, 2, 2.5])
    expect(curve?.end.share).toBeCloseTo(1.4)
  })
  it('write the one that binds first last, above the others', () => {
    const found = curvesOf(
      size({ cpu: [0.5], memory: [0.2], disk: [0.1] }, { cpu: 1, memory: 4, disk: null }),
      1.4,
    )
    expect(found.map((c) => c.resource)).toEqual(['disk', 'memory', 'cpu'])
  })
  it('rise straight where a size has none of what is wanted', () => {
    const [curve] = curvesOf(size({ gpu: [null, null] }, { gpu: 0 }), 1.4)
    expect(curve?.points).toEqual([{ n: 1, share: 1.4 }])
  })
  it('have names that do not cover each other', () => {
    const names = namesOf(
      [
        { x: 500, y: 0 },
        { x: 520, y: 0 },
        { x: 800, y: 300 },
        { x: 800, y: 304 },
      ],
      { x: 96, y: 14 },
    )
    expect(names.map((n) => n.above)).toEqual([true, true, false, false])
    expect(names[1]?.x).toBe(596)
    expect(names[3]?.y).toBe(314)
  })
})

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

describe('findings', () => {
  const plan = {
    groups: [{ id: 'g' }],
    access: [{ group: 'g' }],
    sizes: [{ id: 's' }],
    pools: [{ id: 'p', size: 's', hosts: { standing: 4 } }],
  } as unknown as Plan
  it('lead to the view that edits their place', () => {
    expect(routeTo(plan, '/groups/0')).toEqual({ name: 'people', query: { group: 'g' } })
    expect(routeTo(plan, '/access/0/apps/0').query).toEqual({ group: 'g' })
    expect(routeTo(plan, '/pools/0/session_limit').name).toBe('hosts')
    const schedules = [{ id: 's', day_types: [{ weekdays: ['sat', 'sun'] }] }]
    const pools = [{ id: 'p', schedule: 's' }]
    const ruled = { ...plan, schedules, pools } as unknown as typeof plan
    expect(routeTo(ruled, '/schedules/0/day_types/0/bands/2/notice/minutes')).toEqual({
      name: 'board',
      query: { pool: 'p', day: '5', band: '2' },
    })
    expect(routeTo(ruled, '/schedules/0/load_rules/0').query).toEqual({ pool: 'p' })
    expect(routeTo(plan, '/pools/0/hosts/standing')).toEqual({
      name: 'pools',
      query: { pool: 'p' },
    })
    expect(routeTo(plan, '/sizes/0/quota').query).toEqual({ pool: 'p' })
  })
  it('are mended where their pointer leads, and nowhere else', () => {
    const copy = structuredClone(plan)
    lensAt(copy, '/pools/0/hosts/standing').write(copy, 9)
    expect(copy.pools[0]?.hosts.standing).toBe(9)
    lensAt(copy, '/nowhere/3/x').write(copy, 1)
    expect('nowhere' in copy).toBe(false)
  })
})
