/** A text in a picture: its middle, where it would like to stand, and its room in pixels. */
export interface Label {
  x: number
  y: number
  width: number
}

/** The height of a line of small text. */
const LINE = 13
/** About the width of a letter of it. */
const LETTER = 6.3

export const widthOf = (text: string) => text.length * LETTER

/**
 * Heights at which none of the texts covers another. The earlier ones keep what they wish; a later
 * one goes to the nearest free height between `top` and `bottom`.
 */
export function apart(labels: readonly Label[], top: number, bottom: number): number[] {
  const placed: Label[] = []
  return labels.map((label) => {
    const near = placed.filter((p) => Math.abs(p.x - label.x) < (p.width + label.width) / 2 + 4)
    const free = (y: number) => near.every((p) => Math.abs(p.y - y) >= LINE)
    const wish = Math.max(top, Math.min(label.y, bottom))
    const others = near
      .flatMap((p) => [p.y - LINE, p.y + LINE])
      .filter((y) => y >= top && y <= bottom && free(y))
      .sort((a, b) => Math.abs(a - wish) - Math.abs(b - wish))
    const y = free(wish) ? wish : (others[0] ?? wish)
    placed.push({ ...label, y })
    return y
  })
}
