import { expect, it, vi } from 'vitest'

import type { Plan, PlanSummary } from '@/api/client'

import { entriesOf, found } from './palette'

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
