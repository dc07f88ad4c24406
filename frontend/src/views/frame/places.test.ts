import { describe, expect, it } from 'vitest'

import type { Plan } from '@/api/client'
import { lensAt } from '@/plan/lens'

import { routeTo } from './places'

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
