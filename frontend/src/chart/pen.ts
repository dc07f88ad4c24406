import { stepBoxes, stepLine } from './steps'

/** What a thing is drawn with: a colour of the theme, solid or as a pattern of lines. */
export interface Ink {
  /** The name of the theme's custom property. */
  colour: string
  alpha?: number
  /** Lines or dots in place of a solid colour, so far apart in pixels. */
  pattern?: Pattern
  gap?: number
  /** Width of a line, of the pattern's lines too. */
  width?: number
  dash?: readonly number[]
}

/** What a picture is drawn with, on the screen as in a file: paths as in SVG, and boxes. */
export interface Pen {
  fill: (path: string, ink: Ink) => void
  stroke: (path: string, ink: Ink) => void
  box: (x: number, y: number, width: number, height: number, ink: Ink) => void
  /** A line that keeps each value until the next edge (see `steps`). */
  steps: (edges: readonly number[], values: readonly number[], ink: Ink) => void
  /** How many places a pixel has: what lies on them is drawn sharp, and quickly. */
  readonly grid: number
}

export type Pattern = 'slant' | 'back' | 'cross' | 'rows' | 'posts' | 'swell' | 'dots'

/** One tile of a pattern: its size, and the lines in it; round ends make a dot of a short one. */
export interface Tile {
  width: number
  height: number
  path: string
}

export function tileOf(pattern: Pattern, gap: number): Tile {
  const square = (path: string): Tile => ({ width: gap, height: gap, path })
  const slant = `M-1 ${gap + 1}L${gap + 1} -1M-1 1L1 -1M${gap - 1} ${gap + 1}L${gap + 1} ${gap - 1}`
  const back = `M-1 -1L${gap + 1} ${gap + 1}M${gap - 1} -1L${gap + 1} 1M-1 ${gap - 1}L1 ${gap + 1}`
  switch (pattern) {
    case 'slant':
      return square(slant)
    case 'back':
      return square(back)
    case 'cross':
      return square(slant + back)
    case 'rows':
      return square(`M-1 0.5H${gap + 1}`)
    case 'posts':
      return square(`M0.5 -1V${gap + 1}`)
    case 'dots':
      return square('M1.5 1.5h0.01')
    case 'swell': {
      const half = gap / 2
      const bow = half * 0.37
      const path = `M0 ${half / 2}q${half / 2} ${-bow} ${half} 0t${half} 0`
      return { width: gap, height: half * 0.85, path }
    }
  }
}

/** Draws on a canvas, `ratio` of whose pixels are one of the page. */
export class CanvasPen implements Pen {
  constructor(
    private readonly context: CanvasRenderingContext2D,
    private readonly colourOf: (name: string) => string,
    private readonly ratio: number,
  ) {}

  get grid(): number {
    return this.ratio
  }

  fill(path: string, ink: Ink): void {
    if (!path) return
    this.dip(ink)
    this.context.fill(new Path2D(path))
  }

  box(x: number, y: number, width: number, height: number, ink: Ink): void {
    this.dip(ink)
    this.context.fillRect(x, y, width, height)
  }

  stroke(path: string, ink: Ink): void {
    if (!path) return
    const { context } = this
    this.shade(ink.alpha ?? 1)
    context.strokeStyle = this.colourOf(ink.colour)
    context.lineWidth = ink.width ?? 1
    context.lineCap = ink.dash ? 'round' : 'butt'
    context.setLineDash(ink.dash ? [...ink.dash] : [])
    context.stroke(new Path2D(path))
  }

  steps(edges: readonly number[], values: readonly number[], ink: Ink): void {
    this.dip(ink)
    for (const box of stepBoxes(edges, values, ink.width ?? 1, this.ratio, ink.dash)) {
      this.context.fillRect(...box)
    }
  }

  /** To set a colour reads it, which takes longer than to draw a small box with it. */
  private dipped: CanvasPattern | string = ''
  private alpha = -1

  private dip(ink: Ink): void {
    const paint = ink.pattern ? this.tiled(ink, ink.pattern) : this.colourOf(ink.colour)
    this.shade(ink.alpha ?? 1)
    if (paint !== this.dipped) this.context.fillStyle = this.dipped = paint
  }

  private shade(alpha: number): void {
    if (alpha !== this.alpha) this.context.globalAlpha = this.alpha = alpha
  }

  private tiled(ink: Ink, pattern: Pattern): CanvasPattern | string {
    const colour = this.colourOf(ink.colour)
    const known = tiles.get(ink)
    if (known?.colour === colour && known.ratio === this.ratio) return known.made
    const tile = tileOf(pattern, ink.gap ?? 6)
    const canvas = document.createElement('canvas')
    canvas.width = Math.max(Math.round(tile.width * this.ratio), 1)
    canvas.height = Math.max(Math.round(tile.height * this.ratio), 1)
    const context = canvas.getContext('2d')
    if (!context) return colour
    context.scale(canvas.width / tile.width, canvas.height / tile.height)
    context.strokeStyle = colour
    context.lineWidth = ink.width ?? 1
    context.lineCap = 'round'
    context.stroke(new Path2D(tile.path))
    const made = this.context.createPattern(canvas, 'repeat')
    if (!made) return colour
    made.setTransform(new DOMMatrix().scale(tile.width / canvas.width, tile.height / canvas.height))
    tiles.set(ink, { colour, ratio: this.ratio, made })
    return made
  }
}

/** Patterns as they were made for an ink; inks are constants of their pictures. */
const tiles = new WeakMap<Ink, { colour: string; ratio: number; made: CanvasPattern }>()

/** Writes the same as SVG. */
export class SvgPen implements Pen {
  private readonly parts: string[] = []
  private readonly patterns = new Map<string, string>()

  /** `prefix` tells its patterns from those of another pen in the same file. */
  constructor(
    private readonly colourOf: (name: string) => string,
    private readonly prefix: string,
  ) {}

  fill(path: string, ink: Ink): void {
    if (path) this.parts.push(`<path d="${path}" ${this.filled(ink)}/>`)
  }

  box(x: number, y: number, width: number, height: number, ink: Ink): void {
    const place = `x="${tenth(x)}" y="${tenth(y)}" width="${tenth(width)}" height="${tenth(height)}"`
    this.parts.push(`<rect ${place} ${this.filled(ink)}/>`)
  }

  stroke(path: string, ink: Ink): void {
    if (!path) return
    const dash = ink.dash ? ` stroke-dasharray="${ink.dash.join(' ')}" stroke-linecap="round"` : ''
    this.parts.push(
      `<path d="${path}" fill="none" stroke="${this.colourOf(ink.colour)}" ` +
        `stroke-width="${ink.width ?? 1}" opacity="${ink.alpha ?? 1}"${dash}/>`,
    )
  }

  readonly grid = 10

  steps(edges: readonly number[], values: readonly number[], ink: Ink): void {
    this.stroke(stepLine(edges, values), ink)
  }

  /** Everything that was drawn, with the patterns that it needs before it. */
  get text(): string {
    const defs = [...this.patterns.values()].join('')
    return (defs && `<defs>${defs}</defs>`) + this.parts.join('')
  }

  private filled(ink: Ink): string {
    const paint = ink.pattern ? `url(#${this.tiled(ink, ink.pattern)})` : this.colourOf(ink.colour)
    return `fill="${paint}" opacity="${ink.alpha ?? 1}"`
  }

  private tiled(ink: Ink, pattern: Pattern): string {
    const gap = ink.gap ?? 6
    const name = `${this.prefix}-${pattern}-${gap}-${ink.width ?? 1}${ink.colour}`
    if (!this.patterns.has(name)) {
      const tile = tileOf(pattern, gap)
      this.patterns.set(
        name,
        `<pattern id="${name}" width="${tile.width}" height="${tile.height}" ` +
          `patternUnits="userSpaceOnUse"><path d="${tile.path}" fill="none" ` +
          `stroke="${this.colourOf(ink.colour)}" stroke-width="${ink.width ?? 1}" ` +
          `stroke-linecap="round"/></pattern>`,
      )
    }
    return name
  }
}

const tenth = (value: number) => Math.round(value * 10) / 10
