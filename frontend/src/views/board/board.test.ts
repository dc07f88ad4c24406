import { describe, expect, it } from 'vitest'

import type { Day, Plan, Series, WeekAnswer } from '@/api/client'
import type { Pen } from '@/chart/pen'
import { duration, share } from '@/ui/format'

import { carryKeys, rowKey } from '@/plan/rows'

import { bandsOf, placeOf } from '@/water/day'
import { actionAt, drawLanes, joined, rowsOf as laneRows, stepFrom, stretchAt } from '@/water/lanes'
import { drawWaits, nearest, scaleOf, waitWords, waitsOf, type Wait } from '@/water/waits'
import { columnsOf, drawDay, tableOf, topOf } from '@/water/water'

const band = (from: string) => ({ from, floor: 4, exceptions: [] })
const schedule = {
  id: 's',
  day_types: [
    { id: 'd', bands: [band('00:00'), band('08:00'), band('17:00')] },
    { id: 'own', bands: [band('00:00')] },
  ],
} as unknown as Plan['schedules'][number]
const span = (hour: number, end: number, day_type: number, band: number) => ({
  start: hour * 3600,
  end: end * 3600,
  day_type,
  band,
  earliest: hour * 3600 - 300,
  latest: hour * 3600 + 300,
})

describe('bands', () => {
  const week = {
    bands: [span(0, 8, 0, 0), span(8, 17, 0, 1), span(17, 24, 0, 2), span(24, 48, 1, 0)],
  } as WeekAnswer
  const monday = { start: 0, end: 86400 } as Day
  const tuesday = { start: 86400, end: 2 * 86400 } as Day
  const edges = (held: { index: number; instant: number } | null) =>
    bandsOf(schedule, week, monday, held).map((band) => [band.start / 3600, band.end / 3600])

  it('are in force as the week tells it, and say what the plan says', () => {
    expect(edges(null)).toEqual([
      [0, 8],
      [8, 17],
      [17, 24],
    ])
    const kinds = schedule.day_types.map((kind) => ({ schedule: 's', dayType: rowKey(kind) }))
    expect([monday, tuesday].map((day) => placeOf(schedule, week, day))).toEqual(kinds)
    expect(bandsOf(schedule, week, tuesday, null)).toHaveLength(1)
  })

  it('stand where the hand holds them until the week has followed', () => {
    expect(edges({ index: 1, instant: 6 * 3600 })).toEqual([
      [0, 6],
      [6, 17],
      [17, 24],
    ])
  })

  it('that the plan no longer has are not drawn', () => {
    const shorter = {
      ...schedule,
      day_types: [{ ...schedule.day_types[0], bands: schedule.day_types[0]?.bands.slice(0, 2) }],
    } as typeof schedule
    expect(bandsOf(shorter, week, monday, null)).toHaveLength(2)
    expect(bandsOf(shorter, week, tuesday, null)).toHaveLength(0)
    // The week still tells three bands by their places: without the first, no other is taken for it.
    const kinds = [{ ...schedule.day_types[0], bands: schedule.day_types[0]?.bands.slice(1) }]
    const later = { ...schedule, day_types: kinds } as typeof schedule
    carryKeys(schedule, later)
    expect(bandsOf(later, week, monday, null, schedule).map((each) => each.start / 3600)).toEqual([
      8, 17,
    ])
  })
})

const nothing = () => undefined
const noPen: Pen = { fill: nothing, stroke: nothing, box: nothing, steps: nothing, grid: 1 }

describe('water', () => {
  const series = {
    start: 0,
    seconds: 300,
    active: [1, 2, 3],
    idle: [0, 1, 1],
    disconnected: [0, 0, 1],
    waiting: [0, 4, 0],
    waiting_peak: [0, 6, 0],
    quay: [4, 3, 10],
    billed: [4, 5, 10],
    ideal: [2, 2, 4],
    strained: [0, 0, 0],
  } satisfies Series
  const day = { date: '2027-03-01', start: 0, end: 900 } as Day
  const columns = columnsOf(series, day)

  it('takes the bins of the day and the edges around them', () => {
    expect(columns.edges).toEqual([0, 300, 600, 900])
    expect(columnsOf(series, { ...day, start: 300 }).quay).toEqual([3, 10])
  })

  it('has room for the people who wait on top of the quay', () => {
    expect(topOf(columns)).toBe(10)
    expect(topOf({ ...columns, waiting: [0, 4, 9] })).toBe(19)
  })

  it('draws the flood where people wait, on top of what stands higher', () => {
    const drawn: Record<string, string[]> = {}
    const pen: Pen = {
      fill: (path, ink) => (drawn[ink.colour] ??= []).push(path),
      stroke: (path, ink) => (drawn[ink.colour] ??= []).push(path),
      steps: (edges, values, ink) =>
        (drawn[ink.colour] ??= []).push(`${edges.join()} ${values.join()}`),
      box: () => undefined,
      grid: 1,
    }
    drawDay(
      pen,
      columns,
      (t) => t,
      (v) => v,
    )
    expect(drawn['--buoy']).toEqual(['M300 7H600V3H300Z'])
    expect(drawn['--brass']).toEqual(['0,300,600,900 4,3,10'])
  })

  it('tells a row for every five minutes', () => {
    const week = { series, zone: 'UTC' } as WeekAnswer
    const { head, rows } = tableOf(week, day)
    expect(rows).toHaveLength(3)
    expect(rows[1]?.[head.indexOf('most waiting')]).toBe(6)
    expect(rows[1]?.slice(0, 2)).toEqual(['2027-03-01', '00:05'])
  })
})

describe('waits under the water', () => {
  const week = {
    series: { start: 0, seconds: 300 },
    logons: {
      at: [300, 600, 2700],
      asked: [10, 4, 2],
      waited: [5, 4, 1],
      median: [30, 90, -1],
      longest: [200, 400, -1],
    },
  } as WeekAnswer
  const waits = waitsOf(week, { start: 0, end: 1500 } as Day)

  it('are those of the day', () => {
    expect(waits.map((wait) => wait.at)).toEqual([300, 600])
    expect(waitsOf(week, { start: 1500, end: 3000 } as Day)).toHaveLength(1)
  })

  it('are told in words, without end where somebody was refused', () => {
    const wait: Wait = { at: 300, asked: 10, waited: 5, median: 30, longest: 200 }
    expect(waits[0]).toEqual(wait)
    expect(waitWords(wait, 'UTC')).toBe(
      '00:05 · 5 of 10 who asked waited, half of them 30 s or longer, at most 3 min 20 s',
    )
    expect(waitWords({ ...wait, longest: -1 }, 'UTC')).toContain('at most without end')
  })

  it('hang from a scale in round minutes that holds the longest', () => {
    expect(scaleOf(waits)).toBe(480)
    expect(scaleOf([])).toBe(60)
    const boxes: { colour: string; height: number; y: number }[] = []
    const pen: Pen = {
      ...noPen,
      box: (_x, y, _w, height, ink) => boxes.push({ colour: ink.colour, height, y }),
    }
    drawWaits(pen, [{ at: 0, asked: 4, waited: 1, median: 240, longest: 480 }], (t) => t, 300, 32)
    const [all = 0, share, longest, median] = boxes.map((box) => box.height)
    expect(all).toBeGreaterThan(0)
    expect([share, longest, median]).toEqual([all / 4, 20, 10])
  })

  it('are found near the pointer, and not from afar', () => {
    expect(nearest(waits, 500, 900)?.at).toBe(600)
    expect(nearest(waits, 3000, 900)).toBeNull()
  })
})

describe('the view of the lanes', () => {
  it('draws the rows and stretches in sight alone', () => {
    const stretch = (time: number, end: number) =>
      ({ time, end, state: 'ready', sessions: 0, strained: false }) as const
    const rows = [0, 1, 2].map((host) => ({ host, stretches: [stretch(0, 50), stretch(50, 100)] }))
    const boxes: number[][] = []
    const pen: Pen = {
      ...noPen,
      box: (x, y, width, height) => boxes.push([x, y, width, height]),
    }
    const room = { width: 200, top: 10, bottom: 19, lane: 9, pitch: 10 }
    drawLanes(pen, rows, { from: 60, to: 100 }, 8, room)
    expect(boxes).toEqual([
      [0, 0, 200, 9],
      [0, 10, 200, 9],
    ])
  })
})

describe('lanes that come in two answers', () => {
  const at = (time: number) => ({ time, state: 'ready', sessions: time, strained: false })
  it('are joined where the first one ends', () => {
    const first = { until: 50, lanes: [{ host: 0, changes: [at(0)] }], actions: [] }
    const rest = { until: 100, lanes: [{ host: 0, changes: [at(50), at(70)] }], actions: [] }
    const both = joined(first, rest)
    expect(both.until).toBe(100)
    expect(both.lanes[0]?.changes.map((change) => change.time)).toEqual([0, 50, 70])
  })
})

describe('lanes', () => {
  const change = (time: number, state: string, sessions = 0) => ({
    time,
    state,
    sessions,
    strained: false,
  })
  const row = laneRows(
    {
      until: 200,
      lanes: [
        {
          host: 0,
          changes: [
            change(0, 'off'),
            change(50, 'starting'),
            change(80, 'ready'),
            change(90, 'ready', 1),
          ],
        },
      ],
      actions: [],
    },
    200,
  )[0]
  if (!row) throw new Error('no lane')

  it('finds the stretch at a time and steps from state to state', () => {
    expect(stretchAt(row, 85)).toMatchObject({ state: 'ready', sessions: 0, end: 90 })
    expect(stepFrom(row, 0, 1)).toBe(50)
    expect(stepFrom(row, 80, 1)).toBe(80)
    expect(stepFrom(row, 80, -1)).toBe(50)
  })

  it('tells the last action before a time', () => {
    const action = { time: 50, host: 0, action: 'started', cause: 'floor', text: '' }
    expect(actionAt([action], 0, 60)).toBe(action)
    expect(actionAt([action], 0, 40)).toBeUndefined()
    expect(actionAt([action], 1, 60)).toBeUndefined()
  })
})

describe('numbers', () => {
  it('says durations and shares as a person would', () => {
    expect(duration(24)).toBe('24 s')
    expect(duration(396)).toBe('6 min 36 s')
    expect(duration(7260)).toBe('2 h 01 min')
    expect(share(0.0012)).toBe('0.12 %')
    expect(share(0.562)).toBe('56.2 %')
  })
})
