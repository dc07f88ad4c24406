import { apart, widthOf } from '@/chart/labels'
import type { Scale } from '@/chart/scale'
import { count } from '@/ui/format'

import type { DayBand } from './day'

/** A band's handles in the picture, in pixels of the plot. */
export interface BandHandle {
  band: DayBand
  left: number
  right: number
  floorY: number
  ceilingY: number
  gripX: number
  ceilingX: number
  /** What the fill ceiling is a share of, in slots. */
  base: number
  floorText: string
  ceilingText: string
}

export interface Rule {
  x: Scale
  y: Scale
  /** How wide the plot is: a grip stands where its band is seen. */
  width: number
  /** Sessions on one host. */
  limit: number
  quayAt: (instant: number) => number
}

export function handlesOf(bands: readonly DayBand[], { x, y, width, limit, quayAt }: Rule): BandHandle[] {
  return bands.map((band) => {
    const left = x(band.start)
    const right = x(band.end)
    const seen = { from: Math.max(left, 0), to: Math.min(right, width) }
    const part = (share: number) => seen.from + (seen.to - seen.from) * share
    // The quay at the ceiling's grip, or the floor where that is bare.
    const quay = quayAt((band.start + 2 * band.end) / 3)
    const base = quay || Math.max(band.band.floor, 1) * limit
    return {
      band,
      left,
      right,
      base,
      floorY: y(band.band.floor * limit),
      ceilingY: y(band.band.fill_ceiling * base),
      gripX: part(1 / 3),
      ceilingX: part(2 / 3),
      floorText: `${count(band.band.floor)} ready`,
      ceilingText: `${Math.round(band.band.fill_ceiling * 100)} % full`,
    }
  })
}

export interface Mark {
  x: number
  y: number
  text: string
}

/** Where the texts stand so that none covers another: of the floods, the floors, the ceilings. */
export function textHeights(
  marks: readonly Mark[],
  handles: readonly BandHandle[],
  targets: readonly { left: number; top: number; text: string; width: number }[],
  bottom: number,
) {
  const wide = (x: number, y: number, text: string) => ({ x, y, width: widthOf(text) })
  const found = apart(
    [
      ...marks.map((mark) => wide(mark.x, mark.y, mark.text)),
      ...targets.map((t) => ({ x: t.left + 9 + t.width / 2, y: t.top - 6, width: t.width })),
      ...handles.map((h) => wide(h.gripX, h.floorY - 10, h.floorText)),
      ...handles.map((h) => wide(h.ceilingX, h.ceilingY + 20, h.ceilingText)),
    ],
    -8,
    bottom - 4,
  )
  const before = marks.length + targets.length
  const floors = before + handles.length
  return {
    marks: found.slice(0, marks.length),
    targets: found.slice(marks.length, before),
    floors: found.slice(before, floors),
    ceilings: found.slice(floors),
  }
}
