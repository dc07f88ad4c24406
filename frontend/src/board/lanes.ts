import type { LanesAnswer } from '@/api/client'

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

export interface Palette {
  water: string
  wash: string
  brass: string
  ink: string
  buoy: string
  hair: string
}

/** Read the theme's colours for the canvas. */
export function paletteOf(element: Element): Palette {
  const style = getComputedStyle(element)
  const value = (name: string) => style.getPropertyValue(name).trim()
  return {
    water: value('--water-1'),
    wash: value('--brass-wash'),
    brass: value('--brass-line'),
    ink: value('--ink'),
    buoy: value('--buoy'),
    hair: value('--hair'),
  }
}

function hatch(
  context: CanvasRenderingContext2D,
  x: number,
  y: number,
  width: number,
  height: number,
  gap: number,
  slope: number,
): void {
  context.save()
  context.beginPath()
  context.rect(x, y, width, height)
  context.clip()
  context.beginPath()
  if (slope === 0) {
    for (let at = y + 1; at < y + height; at += gap) {
      context.moveTo(x, at + 0.5)
      context.lineTo(x + width, at + 0.5)
    }
  } else {
    for (let at = x - height; at < x + width + height; at += gap) {
      context.moveTo(at, y + height)
      context.lineTo(at + slope * height, y)
    }
  }
  context.stroke()
  context.restore()
}

/** Draw one stretch: shade tells sessions held, pattern tells what else the host is doing. */
export function drawStretch(
  context: CanvasRenderingContext2D,
  stretch: Stretch,
  box: { x: number; y: number; width: number; height: number },
  limit: number,
  colours: Palette,
): void {
  const { x, y, width, height } = box
  if (stretch.state === 'off') {
    context.fillStyle = colours.hair
    context.fillRect(x, y + height - 1, width, 1)
    return
  }
  context.lineWidth = 1
  if (stretch.state === 'absent') return
  if (stretch.state === 'creating' || stretch.state === 'queued' || stretch.state === 'failed') {
    // None of these is on the bill: no wash behind the pattern.
    const failed = stretch.state === 'failed'
    context.strokeStyle = failed ? colours.buoy : colours.hair
    hatch(context, x, y, width, height, stretch.state === 'queued' ? 8 : 5, 1)
    if (failed) hatch(context, x, y, width, height, 5, -1)
    return
  }
  context.fillStyle = colours.wash
  context.fillRect(x, y, width, height)
  if (stretch.sessions > 0) {
    context.globalAlpha = 0.25 + 0.75 * Math.min(stretch.sessions / limit, 1)
    context.fillStyle = colours.water
    context.fillRect(x, y, width, height)
    context.globalAlpha = 1
  }
  if (stretch.state === 'starting') {
    context.strokeStyle = colours.ink
    hatch(context, x, y, width, height, 4, 1)
  } else if (stretch.state === 'draining') {
    context.strokeStyle = colours.brass
    hatch(context, x, y, width, height, 3, 0)
  } else if (stretch.state === 'resetting') {
    context.strokeStyle = colours.water
    hatch(context, x, y, width, height, 3, 0)
  } else if (stretch.state === 'stopping') {
    context.strokeStyle = colours.brass
    hatch(context, x, y, width, height, 4, -1)
  }
  if (stretch.strained) {
    context.fillStyle = colours.buoy
    context.fillRect(x, y + height - 2, width, 2)
  }
}
