import { expect, it, vi } from 'vitest'

import type { Hint, Plan, PlanSummary } from '@/api/client'

import { entriesOf, fieldEntries, found } from './palette'

const plan = {
  pools: [{ id: 'office', name: '' }],
  groups: [{ id: 'line-port', name: 'Line, Port Ellery' }],
} as unknown as Plan
const act = vi.fn()
const others = [{ id: 7, name: 'Quai d’Été' }] as PlanSummary[]
const acts = { add: act, save: act, undo: act, redo: act, theme: act, keys: act }
const entries = entriesOf(plan, others, acts)

it('finds what each word begins, what begins with the first one first', () => {
  expect(found(entries, 'po').map((each) => each.text)).toEqual([
    'Pools',
    'Line, Port Ellery',
    'Add a pool',
  ])
  expect(found(entries, 'tun off').map((each) => each.to)).toEqual([
    { name: 'tuner', query: { pool: 'office' } },
  ])
  expect(found(entries, 'quai').map((each) => each.to)).toEqual([
    { name: 'board', query: {}, params: { id: 7 } },
  ])
  found(entries, 'add site')[0]?.act?.()
  expect(act).toHaveBeenCalledWith('site', 'New site')
  expect(found(entries, 'ort')).toEqual([])
  expect(found(entries, '')).toHaveLength(entries.length)
})

it('finds fields by their name and by what they mean, each in its view', () => {
  const hints = [
    { path: 'pools.idle_timeout', meaning: 'An idle session is disconnected after this time.' },
    { path: 'pools.session_limit', meaning: 'The most sessions one host may hold.' },
    { path: 'schedules.day_types.bands.floor', meaning: 'Hosts that are ready at least.' },
    { path: 'pools.assigned.host', meaning: 'The number of their host in the pool.' },
    { path: 'sizes.vcpu', meaning: 'Processors of a host.' },
  ] as Hint[]
  const fields = fieldEntries(hints, 'office')
  const of = (typed: string) => found(fields, typed).map((each) => [each.field, each.to?.name])
  expect(of('disconn')).toEqual([['pools.idle_timeout', 'board']])
  expect(of('limit')).toEqual([['pools.session_limit', 'hosts']])
  expect(of('floor')).toEqual([['schedules.day_types.bands.floor', 'board']])
  expect(fields).toHaveLength(3)
  expect(fields[0]?.to?.query).toEqual({ pool: 'office', more: '1' })
  expect(fields[1]?.to?.query).toEqual({ pool: 'office' })
})
