/** A round scale up to a value, from nothing: where lines are drawn. */
export function linesTo(most: number, many = 5): number[] {
  if (most <= 0) return [0]
  const rough = most / many
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 5, 10].map((k) => k * power).find((each) => each >= rough) ?? power * 10
  return Array.from({ length: Math.floor(most / step + 1e-9) + 1 }, (_, k) => k * step)
}

/** The height, of those within bounds, that is nearest to one and leaves so much to others. */
export function freeHeight(
  wanted: number,
  taken: readonly number[],
  apart: number,
  within: readonly [number, number],
): number {
  const free = (y: number) => taken.every((other) => Math.abs(other - y) >= apart)
  for (let k = 0; k <= taken.length; k++) {
    for (const y of [wanted - k * apart, wanted + k * apart]) {
      if (y >= within[0] && y <= within[1] && free(y)) return y
    }
  }
  return wanted
}
