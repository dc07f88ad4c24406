import { describe, expect, it } from 'vitest'

import { stepArea, stepBoxes, stepLine } from './steps'

/** The corners of a path of absolute M, H, V and Z, for each of its closed parts. */
function cornersOf(path: string): [number, number][][] {
  return path
    .split('M')
    .slice(1)
    .map((part) => {
      const [start = '', ...moves] = part.split(/(?=[HVZ])/)
      let [x = 0, y = 0] = start.split(' ').map(Number)
      const corners: [number, number][] = [[x, y]]
      for (const move of moves) {
        if (move === 'Z') continue
        if (move.startsWith('H')) x = Number(move.slice(1))
        else y = Number(move.slice(1))
        corners.push([x, y])
      }
      return corners
    })
}
const areaOf = (corners: [number, number][]) =>
  Math.abs(
    corners.reduce((sum, [x, y], k) => {
      const [u, v] = corners[(k + 1) % corners.length] ?? [0, 0]
      return sum + x * v - u * y
    }, 0) / 2,
  )

describe('steps', () => {
  it('keep a value until the next edge', () => {
    expect(stepLine([0, 10, 20, 30], [1, 5, 2])).toBe('M0 1H10V5H20V2H30')
  })

  it('are one where the height stays', () => {
    expect(stepLine([0, 10, 20, 30, 40], [1, 1.01, 4, 4])).toBe('M0 1H20V4H40')
    expect(stepLine([0, 10], [3])).toBe('M0 3H10')
    expect(stepLine([], [])).toBe('')
  })

  it('enclose what lies between two lines', () => {
    expect(stepArea([0, 10, 20], [0, 0], [3, 5])).toBe('M0 3H10V5H20V0H0Z')
    expect(stepArea([0, 10, 20], [1, 2], [3, 3])).toBe('M0 3H20V2H10V1H0Z')
  })

  it('enclose nothing where the lines are one, and where nothing is wanted', () => {
    expect(stepArea([0, 10, 20], [3, 5], [3, 5])).toBe('')
    expect(stepArea([0, 10, 20], [0, 0], [3, 5], () => false)).toBe('')
  })

  it('make a part of each stretch that is wanted', () => {
    const parts = cornersOf(
      stepArea([0, 1, 2, 3, 4, 5], [0, 0, 0, 0, 0], [1, 2, 3, 4, 5], (k) => k !== 2),
    )
    expect(parts.map(areaOf)).toEqual([3, 9])
  })

  it('enclose the area that the bins add up to, whatever their heights', () => {
    let seed = 7
    const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647
    for (let turn = 0; turn < 200; turn += 1) {
      const count = 1 + Math.floor(random() * 12)
      const edges = Array.from({ length: count + 1 }, (_, k) => 3 * k)
      const low = Array.from({ length: count }, () => Math.floor(random() * 4))
      const high = low.map((value) => value + 1 + Math.floor(random() * 3))
      const [part = []] = cornersOf(stepArea(edges, low, high))
      const sum = high.reduce((all, value, k) => all + 3 * (value - (low[k] ?? 0)), 0)
      expect(areaOf(part)).toBe(sum)
    }
  })

  it('are drawn as boxes that cover the line and nothing else', () => {
    const [edges, values] = [
      [0, 10, 20, 30],
      [20, 5, 5],
    ]
    expect(stepBoxes(edges, values, 2, 1)).toEqual([
      [-1, 19, 12, 2],
      [9, 4, 2, 17],
      [9, 4, 22, 2],
    ])
    // Never thinner than a pixel, and on its grid.
    expect(stepBoxes([1, 4.3], [1.26], 0.2, 1)).toEqual([[1, 1, 4, 1]])
  })

  it('leave gaps of the same length round their corners', () => {
    const boxes = stepBoxes([0, 10, 20], [10, 0], 1, 10, [2, 3])
    // Thirty pixels of line: on for two and off for three of them, six times.
    expect(boxes.map(([, , width, height]) => width + height)).toEqual(Array(6).fill(4))
    expect(boxes.map(([x, y]) => [x, y])).toEqual([
      [-0.5, 9.5],
      [4.5, 9.5],
      [9.5, 7.5],
      [9.5, 2.5],
      [9.5, -0.5],
      [14.5, -0.5],
    ])
  })
})
