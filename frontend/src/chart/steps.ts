/** Tenths of a pixel are as fine as anything is drawn; on a screen, its own pixels. */
const TENTHS = 10
const onGrid = (value: number, grid: number) => Math.round(value * grid) / grid

/**
 * A line that keeps each value until the next edge: `values` has one entry less than `edges`.
 * Stretches of one height are one step, so that a quiet day is a short text.
 */
export function stepLine(edges: readonly number[], values: readonly number[]): string {
  const fine = (value: number) => onGrid(value, TENTHS)
  const count = values.length
  if (!count) return ''
  let path = `M${fine(edges[0] ?? 0)} ${fine(values[0] ?? 0)}`
  let now = fine(values[0] ?? 0)
  for (let k = 1; k < count; k += 1) {
    const next = fine(values[k] ?? 0)
    if (next === now) continue
    path += `H${fine(edges[k] ?? 0)}V${next}`
    now = next
  }
  return `${path}H${fine(edges[count] ?? 0)}`
}

/**
 * The areas between two such lines, each stretch of bins for which `where` holds by itself; none
 * where the two are one line.
 */
export function stepArea(
  edges: readonly number[],
  low: readonly number[],
  high: readonly number[],
  where: (bin: number) => boolean = () => true,
  grid = TENTHS,
): string {
  const count = high.length
  let path = ''
  for (let first = 0; first < count; first += 1) {
    if (!where(first)) continue
    let last = first
    while (last + 1 < count && where(last + 1)) last += 1
    path += closed(edges, low, high, first, last, grid)
    first = last
  }
  return path
}

function closed(
  edges: readonly number[],
  low: readonly number[],
  high: readonly number[],
  first: number,
  last: number,
  grid: number,
): string {
  const at = (values: readonly number[], k: number) => onGrid(values[k] ?? 0, grid)
  let now = at(high, first)
  let path = `M${at(edges, first)} ${now}`
  let flat = now === at(low, first)
  for (let k = first + 1; k <= last; k += 1) {
    const next = at(high, k)
    flat &&= next === at(low, k)
    if (next === now) continue
    path += `H${at(edges, k)}V${next}`
    now = next
  }
  if (flat) return ''
  now = at(low, last)
  path += `H${at(edges, last + 1)}V${now}`
  for (let k = last - 1; k >= first; k -= 1) {
    const next = at(low, k)
    if (next === now) continue
    path += `H${at(edges, k + 1)}V${next}`
    now = next
  }
  return `${path}H${at(edges, first)}Z`
}

/** A box of a drawn line, in pixels. */
export type LineBox = readonly [x: number, y: number, width: number, height: number]

/**
 * The same line as boxes on a grid of so many places a pixel: to fill these is several times
 * quicker than to stroke the line. With `dash` (on, off; in pixels) only pieces of it.
 */
export function stepBoxes(
  edges: readonly number[],
  values: readonly number[],
  width: number,
  grid: number,
  dash?: readonly number[],
): LineBox[] {
  const fine = (value: number) => onGrid(value, grid)
  const wide = Math.max(fine(width), 1 / grid)
  const found: LineBox[] = []
  const [on, off] = [dash?.[0] ?? Infinity, dash?.[1] ?? 0]
  let gone = 0
  /** A straight piece from one place to another, one of which it shares with the piece before. */
  const piece = (x: number, y: number, toX: number, toY: number) => {
    const length = Math.abs(toX - x) + Math.abs(toY - y)
    const [right, down] = [Math.sign(toX - x), Math.sign(toY - y)]
    for (let at = -(gone % (on + off)); at < length; at += on + off) {
      const [from, to] = [Math.max(at, 0), Math.min(at + on, length)]
      if (to <= from) continue
      const [ax, bx] = [x + right * from, x + right * to]
      const [ay, by] = [y + down * from, y + down * to]
      found.push([
        fine(Math.min(ax, bx) - wide / 2),
        fine(Math.min(ay, by) - wide / 2),
        fine(Math.abs(bx - ax)) + wide,
        fine(Math.abs(by - ay)) + wide,
      ])
      if (on === Infinity) break
    }
    gone += length
  }
  const count = values.length
  let begun = edges[0] ?? 0
  let now = values[0] ?? 0
  for (let k = 1; k <= count; k += 1) {
    const next = values[k]
    if (next !== undefined && fine(next) === fine(now)) continue
    const end = edges[k] ?? begun
    piece(begun, now, end, now)
    if (next === undefined) break
    piece(end, now, end, next)
    begun = end
    now = next
  }
  return found
}
