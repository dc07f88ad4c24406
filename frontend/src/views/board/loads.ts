import type { Day, LoadRule, LoadSeries } from '@/api/client'
import type { Pen } from '@/chart/pen'
import type { Table } from '@/chart/table'
import { clock, count } from '@/ui/format'

import type { Scale } from '@/chart/scale'

/** A stretch between two looks of a load rule; null where its signal said nothing. */
export interface Look {
  from: number
  to: number
  value: number | null
  extra: number
}

/** The looks of a day, in order: each tells of the time since the one before. */
export function looksOf(told: LoadSeries, day: Day): Look[] {
  const found: Look[] = []
  told.values.forEach((value, k) => {
    const to = told.start + k * told.seconds
    const from = to - told.seconds
    if (to <= day.start || from >= day.end) return
    const within = { from: Math.max(from, day.start), to: Math.min(to, day.end) }
    found.push({ ...within, value, extra: told.extras[k] ?? 0 })
  })
  return found
}

/** A value of the signal as it is read. */
export function valueWords(value: number, unit: string): string {
  if (unit === 'share') return `${count(value * 100)} %`
  return unit === 's' ? `${count(value)} s` : `${count(value, value < 10 ? 1 : 0)} ${unit}`
}

/** How far a handle on a mark moves at a time: a hundredth of a share, else of the scale. */
export function stepOf(unit: string, most: number): number {
  if (unit === 'share') return 0.01
  const rough = most / 100
  const power = 10 ** Math.floor(Math.log10(Math.max(rough, 0.1)))
  return [1, 2, 5, 10].map((k) => k * power).find((each) => each >= rough) ?? power
}

/** The scale's top: all that was said in the day, and both marks, with some room to drag them. */
export function topOf(looks: readonly Look[], rule: LoadRule): number {
  const said = looks.reduce((most, look) => Math.max(most, look.value ?? 0), 0)
  return 1.2 * Math.max(said, rule.asks_at ?? 0, rule.permits_at ?? 0, 0.05)
}

/** When the signal is first beyond a mark after an instant of the day; null where it never is. */
export function beyond(
  looks: readonly Look[],
  at: number,
  below: boolean,
  after: number,
): number | null {
  const first = looks.find(
    ({ to, value }) => to > after && value !== null && (below ? value < at : value > at),
  )
  return first?.to ?? null
}

/** How high the row is that tells the hosts asked for. */
const ROW = 12

/** Draw the signal, what of it asks for hosts, and below it the hosts that are asked for. */
export function drawLoads(
  pen: Pen,
  looks: readonly Look[],
  rule: LoadRule,
  asksWhereLow: boolean,
  x: Scale,
  y: Scale,
  height: number,
): void {
  const most = looks.reduce((top, look) => Math.max(top, look.extra), 1)
  for (const { from, to, value, extra } of looks) {
    const left = x(from)
    const wide = Math.max(x(to) - left, 0.5)
    if (extra > 0) {
      const tall = Math.max((extra / most) * ROW, 2)
      pen.box(left, height + 3 + ROW - tall, wide, tall, { colour: '--brass', alpha: 0.8 })
    }
    if (value === null || rule.asks_at === null) continue
    const [now, mark] = [y(value), y(rule.asks_at)]
    const asks = asksWhereLow ? value < rule.asks_at : value > rule.asks_at
    if (asks) {
      const wash = { colour: '--brass', alpha: 0.3 }
      pen.box(left, Math.min(now, mark), wide, Math.abs(now - mark), wash)
    }
  }
  for (const part of parts(looks)) {
    const edges = [...part.map((look) => x(look.from)), x(part.at(-1)?.to ?? 0)]
    const values = part.map((look) => y(look.value ?? 0))
    pen.steps(edges, values, { colour: '--ink', width: 1.2 })
  }
}

/** The stretches of looks at which the signal said something. */
function parts(looks: readonly Look[]): Look[][] {
  const found: Look[][] = []
  let open: Look[] | null = null
  for (const look of looks) {
    if (look.value === null) open = null
    else if (open) open.push(look)
    else found.push((open = [look]))
  }
  return found
}

export function tableOf(told: LoadSeries, looks: readonly Look[], zone: string): Table {
  return {
    head: ['until', told.unit === 'share' ? told.signal : `${told.signal} (${told.unit})`, 'hosts'],
    rows: looks.map(({ to, value, extra }) => [clock(to, zone), value, extra]),
  }
}
