import type { Series } from '@/api/client'
import { stepArea, stepLine } from '@/chart/steps'

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
  const bins = rows.slice(0, -1)
  const edges = rows.map((row) => x(row.time))
  const heights = (value: (row: Row) => number) => bins.map((row) => y(value(row)))
  const bottom = heights(() => 0)
  const active = heights((row) => row.active)
  const idle = heights((row) => row.idle)
  const water = heights((row) => row.water)
  const shore = heights((row) => Math.max(row.quay, row.water))
  const crest = heights((row) => Math.max(row.quay, row.water) + row.waiting)
  return {
    active: stepArea(edges, bottom, active),
    idle: stepArea(edges, active, idle),
    disconnected: stepArea(edges, idle, water),
    harbor: stepArea(edges, water, shore),
    flood: stepArea(edges, shore, crest, (k) => (bins[k]?.waiting ?? 0) > 0),
    quay: stepLine(
      edges,
      heights((row) => row.quay),
    ),
    billed: stepLine(
      edges,
      heights((row) => row.billed),
    ),
    ideal: stepLine(
      edges,
      heights((row) => row.ideal),
    ),
    surface: stepLine(edges, water),
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
