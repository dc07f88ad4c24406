import type { SizeModel } from '@/api/client'

export const RESOURCES = ['cpu', 'memory', 'gpu', 'disk', 'network'] as const
export type Resource = (typeof RESOURCES)[number]

export const RESOURCE_NAMES: Record<Resource, string> = {
  cpu: 'CPU',
  memory: 'memory',
  gpu: 'GPU memory',
  disk: 'disk',
  network: 'network',
}

/** A curve of the density picture: the share of what a host may bear, at 1, 2, … sessions. */
export interface Curve {
  resource: Resource
  points: { n: number; share: number }[]
  /** Where its name is written: the last point within the picture. */
  end: { n: number; share: number }
  binds: number | null
}

/** The curves of a size up to the top of the picture, those that bind first written last. */
export function curvesOf(size: SizeModel, top: number): Curve[] {
  const found: Curve[] = []
  for (const resource of RESOURCES) {
    const shares = size.curves[resource]
    if (!shares) continue
    const points: { n: number; share: number }[] = []
    for (const [k, value] of shares.entries()) {
      const share = value ?? Infinity
      const before = points.at(-1)
      if (share > top) {
        // The curve leaves the picture between two counts of sessions.
        const from = before ?? { n: 0, share: 0 }
        if (Number.isFinite(share) && share > from.share) {
          const part = (top - from.share) / (share - from.share)
          points.push({ n: from.n + (k + 1 - from.n) * part, share: top })
        } else points.push({ n: k + 1, share: top })
        break
      }
      points.push({ n: k + 1, share })
    }
    const end = points.at(-1)
    if (end) found.push({ resource, points, end, binds: size.by_resource[resource] ?? null })
  }
  return found.sort((a, b) => (b.binds ?? Infinity) - (a.binds ?? Infinity))
}

/** Where a curve is named: above the picture where it leaves it, else beside its end. */
export interface Name {
  x: number
  y: number
  above: boolean
}

/** Places of the curves' names, moved apart so that none covers another. */
export function namesOf(ends: { x: number; y: number }[], gap: { x: number; y: number }): Name[] {
  const found = ends.map(({ x, y }) => ({ x, y, above: y < 1 }))
  const above = found.filter((n) => n.above).sort((a, b) => a.x - b.x)
  const beside = found.filter((n) => !n.above).sort((a, b) => a.y - b.y)
  for (let i = 1; i < above.length; i += 1) {
    const [before, here] = [above[i - 1], above[i]]
    if (before && here) here.x = Math.max(here.x, before.x + gap.x)
  }
  for (let i = 1; i < beside.length; i += 1) {
    const [before, here] = [beside[i - 1], beside[i]]
    if (before && here) here.y = Math.max(here.y, before.y + gap.y)
  }
  return found
}
