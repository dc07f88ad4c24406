import type { Point } from './frame'

/** A place in a grid, counted from 0. */
export interface Cell {
  column: number
  row: number
}

/** How many cells a grid has, and its size in pixels. */
export interface Grid {
  columns: number
  rows: number
  width: number
  height: number
}

/** The cell at a point, if there is one; above and below the grid it is that at its rim. */
export function cellAt(grid: Grid, at: Point): Cell | null {
  const column = Math.floor((at.x / grid.width) * grid.columns)
  if (column < 0 || column >= grid.columns) return null
  const row = Math.floor((at.y / grid.height) * grid.rows)
  return { column, row: Math.max(0, Math.min(row, grid.rows - 1)) }
}

/** A cell's box: x, y, width and height on whole pixels of a screen with `ratio` of them in one of
 * the page, so that cells meet without seams. */
export function cellBox(
  grid: Grid,
  cell: Cell,
  ratio: number,
): [x: number, y: number, width: number, height: number] {
  const snap = (place: number) => Math.round(place * ratio) / ratio
  const [wide, high] = [grid.width / grid.columns, grid.height / grid.rows]
  const [x, y] = [snap(cell.column * wide), snap(cell.row * high)]
  return [x, y, snap((cell.column + 1) * wide) - x, snap((cell.row + 1) * high) - y]
}

const MOVES: Record<string, [columns: number, rows: number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
  PageUp: [-7, 0],
  PageDown: [7, 0],
}

/** The cell that a key leads to, or nothing for a key that leads nowhere. */
export function moved(grid: Grid, from: Cell, key: string): Cell | null {
  const by = MOVES[key]
  if (!by) return null
  const within = (value: number, many: number) => Math.max(0, Math.min(value, many - 1))
  return {
    column: within(from.column + by[0], grid.columns),
    row: within(from.row + by[1], grid.rows),
  }
}
