import { expect, it } from 'vitest'

import type { Plan } from '@/api/client'

import { missingIn } from './address'

const plan = { pools: [{ id: 'office' }], groups: [{ id: 'crew' }] } as unknown as Plan

it('says what an address names that is not there', () => {
  const fine = {
    pool: 'office',
    group: 'crew',
    day: '6',
    band: '0',
    week: '2027-02-28',
    weeks: '2027',
  }
  expect(missingIn(plan, fine)).toEqual([])
  expect(missingIn(plan, { pool: 'all pools', other: 'x', group: undefined })).toEqual([])
  expect(missingIn(plan, { pool: 'zz', day: '7', band: '-1', week: '2027-02-30' })).toEqual([
    'pool ‘zz’',
    'day ‘7’',
    'band ‘-1’',
    'week ‘2027-02-30’',
  ])
})

it('says what an address asks that cannot be asked', () => {
  expect(missingIn(plan, { come: '40', grown: '-40', later: '180', limit: '1' })).toEqual([])
  expect(missingIn(plan, { come: '39', grown: '101', later: 'x', limit: '0' })).toEqual([
    'share of people who come ‘39’',
    'growth ‘101’',
    'later start ‘x’',
    'session limit ‘0’',
  ])
})
