import { ticks } from 'd3-array'

/** Where a value stands, in pixels. */
export type Scale = (value: number) => number

/** A straight line from a span of values to a span of pixels. */
export interface LinearScale extends Scale {
  /** The value that stands at a pixel. */
  invert: (pixel: number) => number
  /** Round values within the span, about so many of them. */
  ticks: (about: number) => number[]
}

type Span = readonly [from: number, to: number]

/** The line itself; a span of values without length stands in the middle of its pixels. */
function between([from, to]: Span, [low, high]: Span): Scale {
  const [length, room] = [to - from, high - low]
  return length ? (value) => low + ((value - from) / length) * room : () => low + room / 2
}

export function linear(values: Span, pixels: Span): LinearScale {
  return Object.assign(between(values, pixels), {
    invert: between(pixels, values),
    ticks: (about: number) => ticks(values[0], values[1], about),
  })
}
