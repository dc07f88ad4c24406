import { expect, it, vi } from 'vitest'

import type { Plan } from '@/api/client'

import { entriesOf, found } from './palette'

const plan = {
  pools: [{ id: 'office', name: '' }],
  groups: [{ id: 'line-port', name: 'Line, Port Ellery' }],
} as unknown as Plan
const act = vi.fn()
const entries = entriesOf(plan, { save: act, undo: act, redo: act, theme: act, keys: act })

it('finds what each word begins, what begins with the first one first', () => {
  expect(found(entries, 'po').map((each) => each.text)).toEqual(['Pools', 'Line, Port Ellery'])
  expect(found(entries, 'tun off').map((each) => each.to)).toEqual([
    { name: 'tuner', query: { pool: 'office' } },
  ])
  expect(found(entries, 'ort')).toEqual([])
  expect(found(entries, '')).toHaveLength(entries.length)
})
