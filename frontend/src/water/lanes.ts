import type { LanesAnswer } from '@/api/client'
import type { Ink, Pen } from '@/chart/pen'
import type { View } from '@/chart/timeframe'
import type { Table } from '@/chart/table'
import { clock } from '@/ui/format'

type Lane = LanesAnswer['lanes'][number]
type Change = Lane['changes'][number]
export type Action = LanesAnswer['actions'][number]

/** A stretch of one host's day. */
export interface Stretch extends Change {
  end: number
}

export interface LaneRow {
  host: number
  stretches: Stretch[]
}

/** Lanes as rows of stretches up to the window's end. */
export function rowsOf(answer: LanesAnswer, end: number): LaneRow[] {
  return answer.lanes.map((lane) => ({
    host: lane.host,
    stretches: lane.changes.map((change, k) => ({
      ...change,
      end: lane.changes[k + 1]?.time ?? end,
    })),
  }))
}

/** Lanes with what comes after them: the second answer begins where the first one ends. */
export function joined(first: LanesAnswer, rest: LanesAnswer): LanesAnswer {
  const after = new Map(rest.lanes.map((lane) => [lane.host, lane.changes]))
  return {
    until: rest.until,
    lanes: first.lanes.map((lane) => ({
      host: lane.host,
      changes: [...lane.changes, ...(after.get(lane.host) ?? [])],
    })),
    actions: [...first.actions, ...rest.actions],
  }
}

/** The stretch at an instant, or undefined before the first. */
export function stretchAt(row: LaneRow, instant: number): Stretch | undefined {
  return row.stretches.findLast((stretch) => stretch.time <= instant)
}

/** What the policy last did to a host at or before an instant. */
export function actionAt(actions: Action[], host: number, instant: number): Action | undefined {
  return actions.findLast((action) => action.host === host && action.time <= instant)
}

/** The next or previous change of state of a host, for stepping by keyboard. */
export function stepFrom(row: LaneRow, instant: number, direction: 1 | -1): number {
  const edges = row.stretches
    .filter((s, k) => k > 0 && s.state !== row.stretches[k - 1]?.state)
    .map((s) => s.time)
  const found = direction > 0 ? edges.find((t) => t > instant) : edges.findLast((t) => t < instant)
  return found ?? instant
}

/** How a host is drawn in each state, over what tells the sessions it holds. */
const BUSY: Record<string, readonly Ink[]> = {
  starting: [{ colour: '--ink', pattern: 'slant', gap: 4 }],
  draining: [{ colour: '--brass-line', pattern: 'rows', gap: 3 }],
  resetting: [{ colour: '--water-1', pattern: 'rows', gap: 3 }],
  stopping: [{ colour: '--brass-line', pattern: 'back', gap: 4 }],
}
/** None of these is on the bill: no wash behind the pattern. */
const AWAY: Record<string, readonly Ink[]> = {
  creating: [{ colour: '--hair', pattern: 'slant', gap: 5 }],
  queued: [{ colour: '--hair', pattern: 'slant', gap: 8 }],
  failed: [{ colour: '--buoy', pattern: 'cross', gap: 5 }],
}

export interface Box {
  x: number
  y: number
  width: number
  height: number
}

/** Draw one stretch: shade tells sessions held, pattern tells what else the host is doing. */
export function drawStretch(pen: Pen, stretch: Stretch, box: Box, limit: number): void {
  const { x, y, width, height } = box
  const { state, sessions } = stretch
  if (state === 'absent') return
  if (state === 'off') return pen.box(x, y + height - 1, width, 1, { colour: '--hair' })
  const away = AWAY[state]
  if (away) {
    for (const ink of away) pen.box(x, y, width, height, ink)
    return
  }
  pen.box(x, y, width, height, { colour: '--brass-wash' })
  if (sessions > 0) {
    const alpha = 0.25 + 0.75 * Math.min(sessions / limit, 1)
    pen.box(x, y, width, height, { colour: '--water-1', alpha })
  }
  for (const ink of BUSY[state] ?? []) pen.box(x, y, width, height, ink)
  if (stretch.strained) pen.box(x, y + height - 2, width, 2, { colour: '--buoy' })
}

/** Draw the rows from `first` on: each `pitch` pixels below the one before it. */
export function drawLanes(
  pen: Pen,
  rows: readonly LaneRow[],
  view: View,
  limit: number,
  {
    width,
    top,
    bottom,
    lane,
    pitch,
  }: Record<'width' | 'top' | 'bottom' | 'lane' | 'pitch', number>,
): void {
  const scale = width / (view.to - view.from)
  const first = Math.max(Math.floor(top / pitch), 0)
  const last = Math.min(rows.length, Math.ceil(bottom / pitch) + 1)
  for (let k = first; k < last; k += 1) {
    for (const stretch of rows[k]?.stretches ?? []) {
      if (stretch.end <= view.from || stretch.time >= view.to) continue
      const x = Math.max((stretch.time - view.from) * scale, 0)
      const end = Math.min((stretch.end - view.from) * scale, width)
      const box = { x, y: k * pitch - top, width: Math.max(end - x, 0.75), height: lane }
      drawStretch(pen, stretch, box, limit)
    }
  }
}

/** The lanes' figures: a row for every stretch of every host. */
export function tableOf(rows: readonly LaneRow[], date: string, zone: string): Table {
  return {
    head: ['date', 'host', 'from', 'until', 'state', 'sessions', 'strained'],
    rows: rows.flatMap((row) =>
      row.stretches.map((s) => [
        date,
        row.host + 1,
        clock(s.time, zone),
        clock(s.end, zone),
        s.state,
        s.sessions,
        s.strained ? 'yes' : 'no',
      ]),
    ),
  }
}
