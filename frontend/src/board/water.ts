import { area, curveStepAfter, line } from 'd3-shape'

import type { Series } from '@/api/client'

export type Scale = (value: number) => number

export interface Paths {
  active: string
  idle: string
  disconnected: string
  harbor: string
  quay: string
  billed: string
  ideal: string
  flood: string
  surface: string
}

/** The values of one day as rows, one per bin, with the last one doubled to draw its step. */
export function rowsOf(series: Series, first: number, last: number) {
  const rows = []
  for (let k = first; k <= last; k += 1) {
    const at = Math.min(k, last - 1)
    const active = series.active[at] ?? 0
    const idle = active + (series.idle[at] ?? 0)
    const water = idle + (series.disconnected[at] ?? 0)
    const quay = series.quay[at] ?? 0
    rows.push({
      time: series.start + k * series.seconds,
      active,
      idle,
      water,
      quay,
      billed: series.billed[at] ?? 0,
      ideal: series.ideal[at] ?? 0,
      waiting: series.waiting[at] ?? 0,
    })
  }
  return rows
}

export type Row = ReturnType<typeof rowsOf>[number]

/** SVG paths of every layer of the picture; the flood is drawn only where people wait. */
export function pathsOf(rows: Row[], x: Scale, y: Scale): Paths {
  const between = (
    low: (r: Row) => number,
    high: (r: Row) => number,
    where: (r: Row) => boolean = () => true,
  ) =>
    area<Row>()
      .defined(where)
      .x((r) => x(r.time))
      .y0((r) => y(low(r)))
      .y1((r) => y(high(r)))
      .curve(curveStepAfter)(rows) ?? ''
  const wet = new Set(rows.filter((r, k) => r.waiting > 0 || (rows[k - 1]?.waiting ?? 0) > 0))
  const along = (value: (r: Row) => number) =>
    line<Row>()
      .x((r) => x(r.time))
      .y((r) => y(value(r)))
      .curve(curveStepAfter)(rows) ?? ''
  return {
    active: between(
      () => 0,
      (r) => r.active,
    ),
    idle: between(
      (r) => r.active,
      (r) => r.idle,
    ),
    disconnected: between(
      (r) => r.idle,
      (r) => r.water,
    ),
    harbor: between(
      (r) => r.water,
      (r) => Math.max(r.quay, r.water),
    ),
    flood: between(
      (r) => Math.max(r.quay, r.water),
      (r) => Math.max(r.quay, r.water) + r.waiting,
      (r) => wet.has(r),
    ),
    quay: along((r) => r.quay),
    billed: along((r) => r.billed),
    ideal: along((r) => r.ideal),
    surface: along((r) => r.water),
  }
}

/** The highest thing drawn: what the vertical scale has to hold. */
export function topOf(rows: Row[]): number {
  return rows.reduce(
    (top, r) => Math.max(top, Math.max(r.quay, r.water) + r.waiting, r.billed, r.ideal),
    0,
  )
}

/** Floods of a day: stretches with people waiting, each with its peak. */
export function floodsOf(rows: Row[], peaks: (time: number) => number) {
  const floods: { start: number; end: number; peak: number; at: number; top: number }[] = []
  rows.slice(0, -1).forEach((row, k) => {
    const end = rows[k + 1]?.time ?? row.time
    const peak = peaks(row.time)
    if (peak <= 0) return
    const top = Math.max(row.quay, row.water) + row.waiting
    const last = floods.at(-1)
    if (last && row.time - last.end <= 1800) {
      last.end = end
      if (peak > last.peak) Object.assign(last, { peak, at: row.time })
      last.top = Math.max(last.top, top)
    } else {
      floods.push({ start: row.time, end, peak, at: row.time, top })
    }
  })
  return floods
}
