/** A round scale up to a value, from nothing: where lines are drawn. */
export function linesTo(most: number, many = 5): number[] {
  if (most <= 0) return [0]
  const rough = most / many
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 5, 10].map((k) => k * power).find((each) => each >= rough) ?? power * 10
  return Array.from({ length: Math.floor(most / step + 1e-9) + 1 }, (_, k) => k * step)
}

/** Round places between two values: where lines are drawn that need not begin at nothing. */
export function linesIn([least, most]: Span, many = 5): number[] {
  const step = linesTo(most - least, many)[1] ?? most
  const first = Math.ceil(least / step - 1e-9)
  const count = Math.floor(most / step + 1e-9) - first + 1
  return Array.from({ length: count }, (_, k) => (first + k) * step)
}

/** The height, of those within bounds, that is nearest to one and leaves so much to others. */
export function freeHeight(
  wanted: number,
  taken: readonly number[],
  apart: number,
  within: readonly [number, number],
): number {
  const free = (y: number) => taken.every((other) => Math.abs(other - y) >= apart)
  for (let k = 0; k <= taken.length + 1; k++) {
    for (const y of [wanted - k * apart, wanted + k * apart]) {
      if (y >= within[0] && y <= within[1] && free(y)) return y
    }
  }
  return wanted
}

/** The least and the most that an axis shows. */
export type Span = readonly [least: number, most: number]

/** What costs so many times the cheapest is no part of the choice: it stands at the edge. */
const DEAR = 1.5

interface Placed {
  look: string
  across: number | null
  money: number
}

/** Whether a value is beyond what an axis shows. */
export function outside(value: number, [least, most]: Span): boolean {
  return value < least || value > most
}

/** What is shown of both axes: where the choice is. Today's plan and simple rules are shown where
 * they are near; further away they stand at the edge. */
export function spanOf(
  marks: readonly Placed[],
  limit: number | null,
): { across: Span; money: Span } {
  const beside = (look: string) => look === 'today' || look === 'rule'
  const choice = marks.filter((mark) => !beside(mark.look) && mark.across !== null)
  const least = Math.min(...choice.map((mark) => mark.money))
  const cheap = choice.filter((mark) => mark.money <= DEAR * least)
  const inside = cheap.length ? cheap : marks
  const across = spanned(
    inside.flatMap((mark) => mark.across ?? []),
    [...marks.flatMap((mark) => mark.across ?? []), ...(limit === null ? [] : [limit])],
  )
  const money = spanned(
    inside.map((mark) => mark.money),
    marks.map((mark) => mark.money),
  )
  return { across: [across[0] <= across[1] * 0.3 ? 0 : across[0], across[1]], money }
}

/** From a bit below the least to a bit above the most of some values, widened by others that lie
 * within the same distance again. */
function spanned(inside: readonly number[], others: readonly number[]): Span {
  const [least, most] = [Math.min(...inside, Infinity), Math.max(...inside, 0)]
  if (least === Infinity) return [0, 1]
  const reach = Math.max(most - least, most * 0.1)
  const near = others.filter((each) => each >= least - reach && each <= most + reach)
  const [low, high] = [Math.min(least, ...near), Math.max(most, ...near)]
  const edge = Math.max((high - low) * 0.12, high * 0.02, 1e-9)
  return [Math.max(low - edge, 0), high + edge]
}
