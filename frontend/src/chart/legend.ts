import { widthOf } from './labels'
import type { Ink, Pen } from './pen'

/** What one kind of thing in a picture is, and how it is drawn: as an area, or as a line. */
export interface Kind {
  text: string
  inks: readonly Ink[]
  line?: boolean
}

export interface Placed extends Kind {
  x: number
}

const SWATCH = 16
const HIGH = 9

/** The kinds one after the other; those that no longer fit into the width are left out. */
export function placed(kinds: readonly Kind[], width: number): Placed[] {
  let x = 0
  const found: Placed[] = []
  for (const kind of kinds) {
    const end = x + SWATCH + 5 + widthOf(kind.text)
    if (end > width) break
    found.push({ ...kind, x })
    x = end + 14
  }
  return found
}

/** Where the text of a kind begins. */
export const textAt = (kind: Placed) => kind.x + SWATCH + 5

/** Draw the swatches in a row `HIGH` pixels high. */
export function drawLegend(pen: Pen, kinds: readonly Placed[]): void {
  for (const { x, inks, line } of kinds) {
    for (const ink of inks) {
      if (line) pen.stroke(`M${x} ${HIGH / 2}h${SWATCH}`, ink)
      else pen.box(x, 0, SWATCH, HIGH, ink)
    }
  }
}
