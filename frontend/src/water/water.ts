import type { Day, Series, WeekAnswer } from '@/api/client'
import type { Kind } from '@/chart/legend'
import type { Ink, Pen } from '@/chart/pen'
import type { Scale } from '@/chart/scale'
import { stepArea } from '@/chart/steps'
import type { Table } from '@/chart/table'
import { clock } from '@/ui/format'

import { binsOf } from './day'

/** A day's values as columns, one entry per bin; `edges` are instants and one more. */
export interface DayColumns {
  edges: number[]
  active: number[]
  idle: number[]
  disconnected: number[]
  quay: number[]
  billed: number[]
  ideal: number[]
  waiting: number[]
  /** The most who waited at once in a bin. */
  peak: number[]
}

export function columnsOf(series: Series, day: Day): DayColumns {
  const [first, last] = binsOf(series, day)
  const part = (values: number[]) => values.slice(first, last)
  return {
    edges: Array.from(
      { length: last - first + 1 },
      (_, k) => series.start + (first + k) * series.seconds,
    ),
    active: part(series.active),
    idle: part(series.idle),
    disconnected: part(series.disconnected),
    quay: part(series.quay),
    billed: part(series.billed),
    ideal: part(series.ideal),
    waiting: part(series.waiting),
    peak: part(series.waiting_peak),
  }
}

/** Where the water of a bin stands: sessions in every state. */
const surfaceOf = (day: DayColumns, k: number) =>
  (day.active[k] ?? 0) + (day.idle[k] ?? 0) + (day.disconnected[k] ?? 0)

/** Where its flood stands: the people waiting on top of the water and the quay. */
export const crestOf = (day: DayColumns, k: number) =>
  Math.max(day.quay[k] ?? 0, surfaceOf(day, k)) + (day.waiting[k] ?? 0)

/** The highest thing drawn: what the vertical scale has to hold. */
export function topOf(day: DayColumns): number {
  let top = 0
  for (let k = 0; k < day.quay.length; k += 1) {
    top = Math.max(top, crestOf(day, k), day.billed[k] ?? 0, day.ideal[k] ?? 0)
  }
  return top
}

/** How each part of the picture is drawn; pictures, legends and files take it from here. */
export const INKS = {
  active: [{ colour: '--water-1' }],
  idle: [
    { colour: '--water-2' },
    { colour: '--paper', alpha: 0.6, pattern: 'swell', gap: 14, width: 0.8 },
  ],
  disconnected: [
    { colour: '--water-3' },
    { colour: '--water-1', pattern: 'dots', gap: 5, width: 1.6 },
  ],
  harbor: [
    { colour: '--brass-wash', alpha: 0.45 },
    { colour: '--brass-line', alpha: 0.55, pattern: 'slant', gap: 7, width: 0.8 },
  ],
  flood: [
    { colour: '--buoy', alpha: 0.85 },
    { colour: '--paper', alpha: 0.55, pattern: 'posts', gap: 3, width: 0.7 },
  ],
  // Edges part what lies beside each other by at least 3 to 1, in either theme.
  edgeOfActive: [{ colour: '--paper', width: 1 }],
  edgeOfWater: [{ colour: '--ink', width: 0.6 }],
  edgeOfFlood: [{ colour: '--paper', width: 1.2 }],
  quay: [{ colour: '--brass', width: 2.6 }],
  billed: [{ colour: '--brass-line', width: 1 }],
  ideal: [
    { colour: '--paper', alpha: 0.45, width: 2.2 },
    { colour: '--ink', width: 1.4, dash: [1.5, 3] },
  ],
  ghost: [{ colour: '--ink-quiet', width: 1.2, dash: [6, 4] }],
  ghostQuay: [{ colour: '--brass', width: 1.2, dash: [6, 4] }],
} as const satisfies Record<string, readonly Ink[]>

/** What the picture shows, in the order of its legend. */
export function kindsOf(beside: string): Kind[] {
  const line = (text: string, inks: readonly Ink[]) => ({ text, inks, line: true })
  return [
    { text: 'active', inks: INKS.active },
    { text: 'idle', inks: INKS.idle },
    { text: 'disconnected', inks: INKS.disconnected },
    { text: 'waiting', inks: INKS.flood },
    line('ready slots', INKS.quay),
    { text: 'unused', inks: INKS.harbor },
    line('billed', INKS.billed),
    line('ideal line', INKS.ideal),
    ...(beside ? [line(beside, INKS.ghost)] : []),
  ]
}

function fill(pen: Pen, path: string, inks: readonly Ink[]): void {
  for (const ink of inks) pen.fill(path, ink)
}

/** Draw a day: its water and flood, what stands unused above it, quay, bill and ideal line. */
export function drawDay(pen: Pen, day: DayColumns, x: Scale, y: Scale): void {
  const bins = day.quay.length
  const edges = day.edges.map(x)
  const heights = (value: (k: number) => number) =>
    Array.from({ length: bins }, (_, k) => y(value(k)))
  const bottom = new Array<number>(bins).fill(y(0))
  const active = heights((k) => day.active[k] ?? 0)
  const idle = heights((k) => (day.active[k] ?? 0) + (day.idle[k] ?? 0))
  const water = heights((k) => surfaceOf(day, k))
  const shore = heights((k) => Math.max(day.quay[k] ?? 0, surfaceOf(day, k)))
  const crest = heights((k) => crestOf(day, k))
  const area = (low: number[], high: number[], inks: readonly Ink[]) =>
    fill(pen, stepArea(edges, low, high, undefined, pen.grid), inks)
  const edge = (values: number[], inks: readonly Ink[]) => {
    for (const ink of inks) pen.steps(edges, values, ink)
  }
  const line = (values: number[], inks: readonly Ink[]) => edge(values.map(y), inks)
  area(water, shore, INKS.harbor)
  area(bottom, active, INKS.active)
  area(active, idle, INKS.idle)
  area(idle, water, INKS.disconnected)
  edge(active, INKS.edgeOfActive)
  edge(idle, INKS.edgeOfWater)
  edge(water, INKS.edgeOfWater)
  const flooded = (k: number) => (day.waiting[k] ?? 0) > 0
  const flood = stepArea(edges, shore, crest, flooded, pen.grid)
  fill(pen, flood, INKS.flood)
  if (flood) for (const ink of INKS.edgeOfFlood) pen.stroke(flood, ink)
  line(day.billed, INKS.billed)
  line(day.quay, INKS.quay)
  line(day.ideal, INKS.ideal)
}

/** Draw the quay and the water of the plan it is compared with, as lines. */
export function drawGhost(pen: Pen, day: DayColumns, x: Scale, y: Scale): void {
  const edges = day.edges.map(x)
  for (const ink of INKS.ghostQuay) pen.steps(edges, day.quay.map(y), ink)
  const water = day.quay.map((_, k) => y(surfaceOf(day, k)))
  for (const ink of INKS.ghost) pen.steps(edges, water, ink)
}

/** The day's figures, a row for every five minutes. */
export function tableOf(week: WeekAnswer, day: Day): Table {
  const columns = columnsOf(week.series, day)
  const { edges, active, idle, disconnected, quay, billed, ideal, waiting, peak } = columns
  const all = [active, idle, disconnected, waiting, peak, quay, billed, ideal]
  return {
    head: ['date', 'time', 'active', 'idle', 'disconnected', 'waiting', 'most waiting'].concat([
      'ready slots',
      'billed slots',
      'ideal slots',
    ]),
    rows: edges
      .slice(0, -1)
      .map((at, k) => [day.date, clock(at, week.zone), ...all.map((values) => values[k] ?? 0)]),
  }
}
