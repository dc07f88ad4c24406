import { describe, expect, it } from 'vitest'

import type { SizeModel } from '@/api/client'

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
