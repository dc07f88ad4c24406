import { readFileSync } from 'node:fs'
import { join } from 'node:path'

import { describe, expect, it } from 'vitest'

import { INKS } from '@/water/water'

const css = readFileSync(join(process.cwd(), 'src/theme/tokens.css'), 'utf8')
const block = (head: string) => css.slice(css.indexOf(head)).split('}')[0] ?? ''
const colours = (text: string) =>
  Object.fromEntries([...text.matchAll(/(--[a-z0-9-]+): (#[0-9a-f]{6})/g)].map((m) => [m[1], m[2]]))
const day = colours(block(':root {'))
const THEMES = { day, night: { ...day, ...colours(block(':root.night {')) } }

/** Relative luminance and contrast as WCAG 2 defines them. */
function luminance(hex: string): number {
  const [r = 0, g = 0, b = 0] = [1, 3, 5].map((at) => {
    const part = parseInt(hex.slice(at, at + 2), 16) / 255
    return part <= 0.03928 ? part / 12.92 : ((part + 0.055) / 1.055) ** 2.4
  })
  return 0.2126 * r + 0.7152 * g + 0.0722 * b
}
function contrast(one: string, other: string): number {
  const [low = 0, high = 0] = [luminance(one), luminance(other)].sort((a, b) => a - b)
  return (high + 0.05) / (low + 0.05)
}

describe.each(Object.entries(THEMES))('by %s', (_, theme) => {
  const between = (one: string, other: string) =>
    contrast(theme[one] ?? '#000000', theme[other] ?? '#000000')

  it.each([
    ['--ink', '--paper'],
    ['--ink', '--brass-wash'],
    ['--ink', '--buoy-wash'],
    ...['--paper', '--paper-raised', '--paper-sunk', '--brass-wash'].map((p) => ['--ink-quiet', p]),
    ...['--brass', '--buoy', '--lichen'].flatMap((c) => [
      [c, '--paper'],
      [c, `${c}-wash`],
    ]),
  ])('text in %s is read on %s', (text = '', ground = '') => {
    expect(between(text, ground)).toBeGreaterThanOrEqual(4.5)
  })

  it('lines, underlines and groups stand out from the paper', () => {
    const tones = Array.from({ length: 10 }, (_, k) => `--tone-${k + 1}`)
    for (const each of ['--hair-strong', '--brass-line', '--focus', ...tones]) {
      expect(between(each, '--paper'), each).toBeGreaterThanOrEqual(3)
    }
  })

  it('an edge parts each water from its neighbours, and the flood from all of them', () => {
    const edges: [readonly { colour: string }[], string[]][] = [
      [INKS.edgeOfActive, ['--water-1', '--water-2']],
      [INKS.edgeOfWater, ['--water-2', '--water-3', '--paper']],
      [INKS.edgeOfFlood, ['--buoy', '--water-1', '--water-2']],
    ]
    for (const [inks, sides] of edges) {
      for (const side of sides) {
        const best = Math.max(...inks.map((ink) => between(ink.colour, side)))
        expect(best, side).toBeGreaterThanOrEqual(3)
      }
    }
    // The third water is told from the flood without one.
    expect(between('--buoy', '--water-3')).toBeGreaterThanOrEqual(3)
  })
})
