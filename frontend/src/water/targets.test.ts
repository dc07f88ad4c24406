import { describe, expect, it } from 'vitest'

import type { Day, Schedule, WeekAnswer } from '@/api/client'

import { marksOf, targetsOf, toldOf } from './targets'

const HOUR = 3600
const told = {
  at: 8 * HOUR,
  until: 17 * HOUR,
  day_type: 0,
  place: 0,
  hosts: 20,
  zone: 'UTC',
  earliest: 0,
  latest: 86_100,
  ready: 20,
  early: 12,
  mean_idle: 300,
}
const week = { pool: 'a', targets: [told, { ...told, at: 32 * HOUR }] } as unknown as WeekAnswer
const schedule = (target: object) =>
  ({
    day_types: [
      { ready_by: [{ at: '08:00', hosts: 20, share: 0, until: null, exceptions: [], ...target }] },
    ],
  }) as unknown as Schedule
const day = { start: 0, end: 86_400 } as Day

describe('what is to be ready by a time', () => {
  it('stands on its day, with what came of it once the whole week is there', () => {
    const of = (whole: WeekAnswer | null) => targetsOf(schedule({}), week, day, whole, null)
    expect(of(null).map((each) => [each.at, each.hosts, each.told])).toEqual([[8 * HOUR, 20, '']])
    expect(of(week)[0]?.told).toBe('empty for 5 min before')
  })

  it('is late where fewer are ready', () => {
    expect(toldOf({ ...told, ready: 18 })).toBe('18 are')
    expect(toldOf({ ...told, early: 0 })).toBe('')
    const short = { ...week, targets: [{ ...told, ready: 18 }] }
    expect(targetsOf(schedule({}), week, day, short, null)[0]?.late).toBe(true)
  })

  it('stands where the hand holds it, and says nothing that is not so yet', () => {
    const own = schedule({})
    const [shown] = targetsOf(own, week, day, week, null)
    const held = { key: shown?.key ?? '', at: 7 * HOUR, hosts: 9 }
    const [mine] = targetsOf(own, week, day, week, held)
    expect([mine?.at, mine?.hosts, mine?.told]).toEqual([7 * HOUR, 9, ''])
  })

  it('has what the pool has otherwise, and of a share what the server made of it', () => {
    const own = { exceptions: [{ pool: 'a', hosts: 5, share: null }] }
    expect(targetsOf(schedule(own), week, day, null, null)[0]?.hosts).toBe(5)
    expect(targetsOf(schedule({ hosts: 0, share: 1 }), week, day, null, null)[0]?.hosts).toBe(20)
  })

  it('reaches to its end, or to that of the day', () => {
    const x = (value: number) => value / HOUR
    const y = (value: number) => 1000 - value
    const targets = targetsOf(schedule({}), week, day, week, null)
    const [mark] = marksOf(targets, x as never, y as never, 10, 12 * HOUR)
    expect([mark?.left, mark?.right, mark?.top]).toEqual([8, 18, 800])
    expect(mark?.text).toBe('20 ready by 08:00, empty for 5 min before')
  })
})
