/** Tenths of a pixel are as fine as anything is drawn. */
const tenth = (value: number) => Math.round(value * 10) / 10

/**
 * A line that keeps each value until the next edge: `values` has one entry less than `edges`.
 * Stretches of one height are one step, so that a quiet day is a short text.
 */
export function stepLine(edges: readonly number[], values: readonly number[]): string {
  const count = values.length
  if (!count) return ''
  let path = `M${tenth(edges[0] ?? 0)} ${tenth(values[0] ?? 0)}`
  let now = tenth(values[0] ?? 0)
  for (let k = 1; k < count; k += 1) {
    const next = tenth(values[k] ?? 0)
    if (next === now) continue
    path += `H${tenth(edges[k] ?? 0)}V${next}`
    now = next
  }
  return `${path}H${tenth(edges[count] ?? 0)}`
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
): string {
  const count = high.length
  let path = ''
  for (let first = 0; first < count; first += 1) {
    if (!where(first)) continue
    let last = first
    while (last + 1 < count && where(last + 1)) last += 1
    path += closed(edges, low, high, first, last)
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
): string {
  const at = (values: readonly number[], k: number) => tenth(values[k] ?? 0)
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
