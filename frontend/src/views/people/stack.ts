import type { CrowdAnswer, CrowdGroup } from '@/api/client'
import type { Scale } from '@/chart/scale'
import { stepArea } from '@/chart/steps'

/** A group's layer in a stack: its place and its path. */
export interface Layer {
  id: string
  path: string
}

/** Running sums from the bottom: `sums[k]` is the lower edge of layer k, the last one the top. */
export function stackSums(layers: readonly (readonly number[])[], bins: number): Float64Array[] {
  const sums = [new Float64Array(bins)]
  for (const values of layers) {
    const below = sums.at(-1) ?? new Float64Array(bins)
    const above = new Float64Array(bins)
    for (let k = 0; k < bins; k += 1) above[k] = (below[k] ?? 0) + (values[k] ?? 0)
    sums.push(above)
  }
  return sums
}

/** Every `width` bins as one, by their sum. */
export function gathered(values: readonly number[], width: number): number[] {
  const result: number[] = []
  for (let k = 0; k < values.length; k += width) {
    let sum = 0
    for (let j = k; j < Math.min(k + width, values.length); j += 1) sum += values[j] ?? 0
    result.push(sum)
  }
  return result
}

/** Step areas of stacked layers. */
export function stackPaths(ids: readonly string[], sums: Float64Array[], x: Scale, y: Scale) {
  const bins = sums[0]?.length ?? 0
  const edges = Array.from({ length: bins + 1 }, (_, k) => x(k))
  const heights = sums.map((sum) => Array.from(sum, y))
  return ids.map((id, layer): Layer => {
    const [low = [], high = []] = [heights[layer], heights[layer + 1]]
    return { id, path: stepArea(edges, low, high) }
  })
}

/** The outline of a band between two series, for an area without a line. */
export function bandPath(
  low: readonly number[],
  high: readonly number[],
  x: Scale,
  y: Scale,
): string {
  const upper = high.map(
    (value, k) => `${k ? 'L' : 'M'}${x(k + 0.5).toFixed(1)} ${y(value).toFixed(1)}`,
  )
  const lower = low.map((value, k) => `L${x(k + 0.5).toFixed(1)} ${y(value).toFixed(1)}`).reverse()
  return high.length ? `${upper.join('')}${lower.join('')}Z` : ''
}

/** Largest groups first: the order of a stack, and of the tones. */
export function stackOrder(groups: readonly CrowdGroup[]): CrowdGroup[] {
  return [...groups].sort((a, b) => b.peak - a.peak || a.id.localeCompare(b.id))
}

/** The chosen group at the bottom, where its shape is easiest to read; the others as they were. */
export function chosenFirst<T extends { id: string }>(groups: readonly T[], chosen: string): T[] {
  return [...groups.filter((g) => g.id === chosen), ...groups.filter((g) => g.id !== chosen)]
}

/** A text cut to so many characters. */
export function shortened(text: string, most: number): string {
  return text.length <= most ? text : `${text.slice(0, most - 1).trimEnd()}…`
}

/** The highest value of a stack. */
export function stackTop(sums: Float64Array[]): number {
  return (sums.at(-1) ?? new Float64Array(0)).reduce((top, value) => Math.max(top, value), 0)
}

/** Which day a bin lies in. */
export function dayOfBin(answer: CrowdAnswer, bin: number): number {
  const found = answer.days.findIndex((day) => bin < day.last_bin)
  return found < 0 ? answer.days.length - 1 : found
}

/** Tones for layers: each stands out from the paper by 3 to 1, and from its neighbours by an edge. */
export function toneOf(place: number): string {
  return `var(--tone-${(place % 10) + 1})`
}
