import { colourOf } from './colours'
import type { Layer } from './frame'
import { SvgPen } from './pen'

/** What a shape or text of the page is drawn with, and a file has to say by itself. */
const STYLES = [
  'fill',
  'fill-opacity',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'stroke-linecap',
  'stroke-linejoin',
  'stroke-opacity',
  'opacity',
  'font-family',
  'font-size',
  'font-weight',
  'font-style',
  'font-variant-numeric',
  'text-anchor',
  'paint-order',
] as const

/** A picture as it is saved: its size, its words, what is drawn in it from the ground up. */
export interface Saved {
  width: number
  height: number
  title: string
  under?: SVGSVGElement
  layers: readonly Layer[]
  over?: SVGSVGElement
}

/** The picture as one SVG document that looks the same anywhere. */
export async function svgOf(saved: Saved): Promise<string> {
  const { width, height, title, under, layers, over } = saved
  const painted = layers.map((layer, k) => {
    const pen = new SvgPen(colourOf, `layer${k}`)
    layer.draw(pen)
    const { x, y, width, height } = layer
    // As on a canvas, what lies beyond it is cut off.
    return `<svg x="${x}" y="${y}" width="${width}" height="${height}">${pen.text}</svg>`
  })
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" ` +
    `viewBox="0 0 ${width} ${height}"><title>${escaped(title)}</title>` +
    `<style>${await fontFace()}</style>` +
    `<rect width="${width}" height="${height}" fill="${colourOf('--paper')}"/>` +
    `${contentOf(under)}${painted.join('')}${contentOf(over)}</svg>`
  )
}

/** The picture as PNG, two of its pixels for one of the page. */
export async function pngOf(saved: Saved): Promise<Blob> {
  const address = URL.createObjectURL(new Blob([await svgOf(saved)], { type: 'image/svg+xml' }))
  try {
    const image = new Image()
    image.src = address
    await image.decode()
    const canvas = document.createElement('canvas')
    canvas.width = saved.width * 2
    canvas.height = saved.height * 2
    canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height)
    return await new Promise((done, fail) => {
      const given = (blob: Blob | null) => (blob ? done(blob) : fail(new Error('no picture')))
      canvas.toBlob(given, 'image/png')
    })
  } finally {
    URL.revokeObjectURL(address)
  }
}

function contentOf(drawing: SVGSVGElement | undefined): string {
  if (!drawing) return ''
  const copy = drawing.cloneNode(true) as SVGSVGElement
  const shown = [drawing, ...drawing.querySelectorAll('*')]
  for (const [k, element] of [copy, ...copy.querySelectorAll('*')].entries()) {
    const from = shown[k]
    if (!from || !(element instanceof SVGElement)) continue
    if (element.classList.contains('catch')) {
      element.remove()
      continue
    }
    for (const { name } of [...element.attributes]) {
      if (/^(class|data-|tabindex|role|aria-)/.test(name)) element.removeAttribute(name)
    }
    if (element === copy) continue
    const style = getComputedStyle(from)
    const told = STYLES.map((name) => `${name}:${style.getPropertyValue(name)}`)
    element.setAttribute('style', told.join(';'))
  }
  return new XMLSerializer().serializeToString(copy)
}

let face: Promise<string> | undefined

/** The rule that brings the page's own font into a file, for the letters of its language. */
function fontFace(): Promise<string> {
  face ??= brought().catch(() => '')
  return face
}

async function brought(): Promise<string> {
  for (const sheet of document.styleSheets) {
    for (const rule of sheet.cssRules) {
      if (!(rule instanceof CSSFontFaceRule)) continue
      const style = rule.style
      const range = style.getPropertyValue('unicode-range')
      const address = /url\("?([^")]+)"?\)/.exec(style.getPropertyValue('src'))?.[1]
      const family = style.getPropertyValue('font-family')
      if (!address || !/Grotesk/.test(family) || !/^U\+0{0,4}-0{0,2}FF/i.test(range)) continue
      const file = await (await fetch(new URL(address, sheet.href ?? location.href))).blob()
      const data = await dataOf(file)
      return `@font-face{font-family:${family};font-weight:100 900;src:url(${data})}`
    }
  }
  return ''
}

function dataOf(file: Blob): Promise<string> {
  return new Promise((done, fail) => {
    const reader = new FileReader()
    reader.onload = () => done(String(reader.result))
    reader.onerror = () => fail(reader.error ?? new Error('not read'))
    reader.readAsDataURL(file)
  })
}

const escaped = (text: string) =>
  text.replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;')
