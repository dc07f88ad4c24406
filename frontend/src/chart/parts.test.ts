import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { h } from 'vue'

import { datedTicks, timeTicks } from './axis'
import ChartHandle from './ChartHandle.vue'
import ChartPicture from './ChartPicture.vue'
import { keyed, type Range } from './handle'
import { apart, widthOf } from './labels'
import { placed } from './legend'
import { SvgPen, tileOf } from './pen'
import { csvOf } from './table'
import { between, panned, zoomed } from './timeframe'

const range: Range = { value: 50, min: 5, max: 100, step: 1, page: 6 }
const press = (key: string, shiftKey = false) => keyed({ key, shiftKey }, range)

describe('keys on a handle', () => {
  it('move by steps, by pages and to the ends', () => {
    expect(press('ArrowRight')).toBe(51)
    expect(press('ArrowDown')).toBe(49)
    expect(press('ArrowUp', true)).toBe(56)
    expect(press('PageDown')).toBe(44)
    expect(press('Home')).toBe(5)
    expect(press('End')).toBe(100)
  })
  it('never leave the range, and other keys are for others', () => {
    expect(keyed({ key: 'PageUp', shiftKey: false }, { ...range, value: 98 })).toBe(100)
    expect(keyed({ key: 'ArrowDown', shiftKey: false }, { ...range, value: 5 })).toBe(5)
    expect(press('Delete')).toBeNull()
  })
})

describe('a handle in a picture', () => {
  let frames: FrameRequestCallback[] = []
  beforeEach(() => {
    frames = []
    vi.stubGlobal('requestAnimationFrame', (call: FrameRequestCallback) => frames.push(call))
    vi.stubGlobal('cancelAnimationFrame', () => (frames = []))
    Element.prototype.setPointerCapture = () => undefined
  })
  afterEach(() => vi.unstubAllGlobals())
  const frame = () => frames.splice(0).forEach((call) => call(0))

  function shown(props: object = {}) {
    const picture = mount(ChartPicture, {
      props: { name: 'p', label: 'a picture', width: 200, height: 100 },
      slots: {
        over: () =>
          h(ChartHandle, {
            label: 'Floor',
            text: 'fifty',
            value: 50,
            min: 0,
            max: 60,
            valueAt: (at: { x: number }) => at.x / 2,
            ...props,
          }),
      },
      attachTo: document.body,
    })
    const handle = picture.findComponent(ChartHandle)
    const at = (type: string, x: number, button = 0) =>
      handle.element.dispatchEvent(
        Object.assign(new Event(type, { bubbles: true }), {
          clientX: x,
          clientY: 0,
          button,
          pointerId: 1,
        }),
      )
    return { handle, at, moves: () => handle.emitted('move') ?? [] }
  }

  it('says its value in words and its range', () => {
    const { handle } = shown()
    expect(handle.attributes()).toMatchObject({
      role: 'slider',
      'aria-valuetext': 'fifty',
      'aria-valuemin': '0',
      'aria-valuemax': '60',
      'aria-valuenow': '50',
    })
  })

  it('goes by how far it was dragged, once a frame, and within its range', () => {
    const { at, moves } = shown()
    at('pointerdown', 10)
    at('pointermove', 12)
    at('pointermove', 14)
    expect(moves()).toEqual([])
    frame()
    expect(moves()).toEqual([[52, false]])
    at('pointermove', 14)
    frame()
    expect(moves()).toHaveLength(1)
    at('pointermove', 900)
    at('pointerup', 900)
    expect(moves().at(-1)).toEqual([60, true])
    at('pointermove', 10)
    frame()
    expect(moves()).toHaveLength(2)
  })

  it('goes by the scale of the moment where that changes under the hand', () => {
    let scale = 0.5
    const { at, moves } = shown({ valueAt: (place: { x: number }) => place.x * scale })
    at('pointerdown', 10)
    scale = 1
    at('pointermove', 15)
    frame()
    expect(moves()).toEqual([[55, false]])
  })

  it('changes nothing where it was pressed and not moved, nor by another button', () => {
    const { at, moves, handle } = shown()
    at('pointerdown', 10)
    at('pointerup', 10)
    at('pointerdown', 10, 2)
    at('pointermove', 40)
    frame()
    expect(moves()).toEqual([])
    expect(handle.emitted('cancel')).toBeUndefined()
  })

  it('takes the drag back with Escape, and what comes after is no drag', () => {
    const { at, moves, handle } = shown()
    at('pointerdown', 10)
    at('pointermove', 20)
    frame()
    dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' }))
    expect(handle.emitted('cancel')).toHaveLength(1)
    at('pointermove', 40)
    at('pointerup', 40)
    frame()
    expect(moves()).toEqual([[55, false]])
  })

  it('is moved by keys, and hands on those it does not know', async () => {
    const { handle, moves } = shown()
    await handle.trigger('keydown', { key: 'PageUp' })
    await handle.trigger('keydown', { key: 'Insert' })
    expect(moves()).toEqual([[56, true]])
    expect(handle.emitted('key')).toHaveLength(1)
  })

  it('stays where it is while it is disabled', async () => {
    const { handle, at, moves } = shown({ disabled: true })
    await handle.trigger('keydown', { key: 'PageUp' })
    at('pointerdown', 10)
    at('pointermove', 40)
    frame()
    expect(moves()).toEqual([])
    expect(handle.attributes('aria-disabled')).toBe('true')
    expect(handle.attributes('tabindex')).toBeUndefined()
  })
})

describe('texts', () => {
  it('keep what they wish where nothing is near', () => {
    const labels = [
      { x: 0, y: 50, width: 40 },
      { x: 100, y: 50, width: 40 },
    ]
    expect(apart(labels, 0, 100)).toEqual([50, 50])
  })
  it('give way to the earlier ones, to the nearest free height', () => {
    const same = { x: 0, y: 50, width: 40 }
    expect(apart([same, { ...same, y: 52 }, { ...same, y: 49 }], 0, 100)).toEqual([50, 63, 37])
    expect(apart([same, { ...same, y: 48 }], 45, 100)).toEqual([50, 63])
  })
  it('in a legend leave out what no longer fits', () => {
    const kinds = ['active', 'idle', 'gone'].map((text) => ({ text, inks: [] }))
    const width = 2 * 21 + widthOf('activeidle') + 14
    expect(placed(kinds, width + 1).map((kind) => kind.text)).toEqual(['active', 'idle'])
  })
})

describe('hours along the ground', () => {
  it('are local ones, and an hour that is skipped has no tick', () => {
    const start = Date.UTC(2027, 2, 27, 23) / 1000
    const ticks = timeTicks(start, start + 23 * 3600, 'Europe/Berlin', 900).map((t) => t.text)
    expect(ticks.slice(0, 4)).toEqual(['00:00', '01:00', '03:00', '04:00'])
    expect(ticks.at(-1)).toBe('00:00')
  })
  it('stand so far apart that their texts do not touch', () => {
    const texts = (hours: number, width: number) =>
      timeTicks(0, hours * 3600, 'UTC', width).map((tick) => tick.text)
    expect(texts(24, 900).slice(0, 3)).toEqual(['00:00', '02:00', '04:00'])
    expect(texts(24, 100)).toEqual(['00:00', '12:00', '00:00'])
    expect(texts(1, 200)).toEqual(['00:00', '00:15', '00:30', '00:45', '01:00'])
    expect(texts(1, 900).slice(0, 3)).toEqual(['00:00', '00:05', '00:10'])
  })
  it('say which date begins in the middle of a day from noon', () => {
    const [noon, next] = [Date.UTC(2027, 2, 5, 12) / 1000, Date.UTC(2027, 2, 6, 12) / 1000]
    const texts = (from: number, to: number) =>
      datedTicks(timeTicks(from, to, 'UTC', 250), from, to, 'UTC').map((tick) => tick.text)
    expect(texts(noon, next)).toContain('Sat 00:00')
    expect(texts(noon - 43_200, noon + 43_200)).toContain('00:00')
  })
  it('are round on a clock that differs by half an hour', () => {
    const ticks = timeTicks(0, 6 * 3600, 'Asia/Kolkata', 250).map((tick) => tick.text)
    expect(ticks).toEqual(['06:00', '07:00', '08:00', '09:00', '10:00', '11:00'])
  })
})

describe('a picture as a file', () => {
  it('has its patterns once, and every shape with its colour', () => {
    const pen = new SvgPen((name) => `rgb${name}`, 'layer0')
    const ink = { colour: '--a', pattern: 'slant', gap: 6 } as const
    pen.box(0, 0, 10.04, 5, ink)
    pen.fill('M0 0H5V5Z', ink)
    pen.stroke('M0 0H9', { colour: '--b', width: 2, dash: [1, 3] })
    pen.fill('', ink)
    const file = new DOMParser().parseFromString(`<svg>${pen.text}</svg>`, 'image/svg+xml')
    const patterns = [...file.querySelectorAll('pattern')]
    expect(patterns).toHaveLength(1)
    expect(file.querySelector('rect')?.getAttribute('fill')).toBe(`url(#${patterns[0]?.id})`)
    expect(file.querySelector('rect')?.getAttribute('width')).toBe('10')
    const line = file.querySelector('svg > path:last-of-type')
    expect(line?.getAttribute('stroke')).toBe('rgb--b')
    expect(line?.getAttribute('stroke-dasharray')).toBe('1 3')
  })

  /** The straight lines of a path of M, L, H, V and relative h, as [x, y, x, y]. */
  function linesOf(path: string): [number, number, number, number][] {
    const found: [number, number, number, number][] = []
    let [x, y] = [0, 0]
    for (const [, command = '', rest = ''] of path.matchAll(/([MLHVh])([^MLHVh]*)/g)) {
      const [a = 0, b = 0] = rest.trim().split(/[ ,]+/).map(Number)
      const [toX, toY] =
        { M: [a, b], L: [a, b], H: [a, y], V: [x, a], h: [x + a, y] }[command] ?? []
      if (toX === undefined || toY === undefined) throw new Error(command)
      if (command !== 'M') found.push([x, y, toX, toY])
      ;[x, y] = [toX, toY]
    }
    return found
  }

  /** Where lines cross an upright (`axis` 0) or a level edge, within the tile. */
  function crossings(path: string, axis: 0 | 1, edge: number, size: number): number[] {
    const found = linesOf(path).flatMap(([x0, y0, x1, y1]) => {
      const [from, to, low, high] = axis ? [y0, y1, x0, x1] : [x0, x1, y0, y1]
      if ((from - edge) * (to - edge) > 0 || from === to) return []
      return [low + ((high - low) * (edge - from)) / (to - from)]
    })
    const inside = found.filter((at) => at >= 0 && at <= size).map((at) => at.toFixed(6))
    return [...new Set(inside)].map(Number).sort((a, b) => a - b)
  }

  it('has tiles whose lines go on in the next tile', () => {
    const crossed = {
      slant: [2, 2],
      back: [2, 2],
      cross: [2, 2],
      rows: [1, 0],
      posts: [0, 1],
      dots: [0, 0],
    }
    for (const pattern of ['slant', 'back', 'cross', 'rows', 'posts', 'dots'] as const) {
      const tile = tileOf(pattern, 6)
      expect(tile).toMatchObject({ width: 6, height: 6 })
      const [left, right] = [0, 6].map((edge) => crossings(tile.path, 0, edge, 6))
      const [top, bottom] = [0, 6].map((edge) => crossings(tile.path, 1, edge, 6))
      expect([pattern, left, top]).toEqual([pattern, right, bottom])
      expect([pattern, left?.length, top?.length]).toEqual([pattern, ...crossed[pattern]])
    }
    // Two bows of half a tile each, up and down: it ends at the height at which it began.
    const swell = tileOf('swell', 14)
    const [, x, , bowX, , toX, toY] =
      /^M([\d.]+) ([\d.]+)q([\d.]+) (-?[\d.]+) ([\d.]+) (0)t/.exec(swell.path) ?? []
    expect([x, bowX, toX, toY].map(Number)).toEqual([0, 3.5, 7, 0])
    expect(swell.path.endsWith('t7 0')).toBe(true)
    expect(swell.width).toBe(14)
  })
})

describe('a table as CSV', () => {
  it('quotes what must be, keeps numbers, and leaves gaps', () => {
    const rows = [['a,b', 1 / 3, null] as const, ['say "x"', -2, '=1+1'] as const]
    expect(csvOf({ head: ['one', 'two', 'three'], rows })).toBe(
      `one,two,three\n"a,b",0.333333,\n"say ""x""",-2,'=1+1`,
    )
  })
})

describe('the stretch of time that is seen', () => {
  const whole = { from: 0, to: 86400 }

  it('zooms around an instant, which stays where it is', () => {
    const near = zoomed(whole, whole, 21600, 0.5)
    expect(near).toEqual({ from: 10800, to: 54000 })
    expect((21600 - near.from) / (near.to - near.from)).toBeCloseTo(0.25)
  })

  it('never shows more than the day nor less than ten minutes', () => {
    expect(zoomed({ from: 0, to: 3600 }, whole, 3000, 100)).toEqual(whole)
    const least = zoomed(whole, whole, 40000, 1e-6)
    expect(least.to - least.from).toBe(600)
    expect(panned({ from: 80000, to: 86000 }, whole, 9999)).toEqual({ from: 80400, to: 86400 })
    expect(between(50_000, 43_000, whole)).toEqual({ from: 43_000, to: 50_000 })
    // Hardly anything brushed over is the shortest stretch around it.
    expect(between(86_390, 86_400, whole)).toEqual({ from: 85_800, to: 86_400 })
  })
})
