import { expect, it } from 'vitest'

import { cellAt, cellBox, moved, type Grid } from './cells'

const grid: Grid = { columns: 10, rows: 24, width: 95, height: 120 }

it('tells the cell at a point, and none beside the grid', () => {
  expect(cellAt(grid, { x: 0, y: 0 })).toEqual({ column: 0, row: 0 })
  expect(cellAt(grid, { x: 94.9, y: 119 })).toEqual({ column: 9, row: 23 })
  expect(cellAt(grid, { x: 50, y: 500 })).toEqual({ column: 5, row: 23 })
  expect(cellAt(grid, { x: -0.1, y: 3 })).toBeNull()
  expect(cellAt(grid, { x: 95, y: 3 })).toBeNull()
})

it('lets cells meet without a seam', () => {
  for (let column = 0; column < 9; column += 1) {
    const [x, , width] = cellBox(grid, { column, row: 0 }, 1)
    expect(x + width).toBe(cellBox(grid, { column: column + 1, row: 0 }, 1)[0])
  }
})

it('moves by keys and stays within the grid', () => {
  expect(moved(grid, { column: 0, row: 5 }, 'ArrowLeft')).toEqual({ column: 0, row: 5 })
  expect(moved(grid, { column: 4, row: 23 }, 'ArrowDown')).toEqual({ column: 4, row: 23 })
  expect(moved(grid, { column: 4, row: 5 }, 'PageDown')).toEqual({ column: 9, row: 5 })
  expect(moved(grid, { column: 4, row: 5 }, 'x')).toBeNull()
})
