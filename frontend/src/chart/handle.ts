import type { Point } from './frame'

/** What a handle stands for, and how far it goes. */
export interface Range {
  value: number
  min: number
  max: number
  step: number
  /** How far the Page keys go, and the arrows with Shift. */
  page: number
}

const bounded = (value: number, range: Range) => Math.max(range.min, Math.min(value, range.max))
const snapped = (value: number, range: Range) =>
  bounded(Math.round(value / range.step) * range.step, range)

/** The value a key moves a handle to, or nothing for a key that moves none. */
export function keyed(event: { key: string; shiftKey: boolean }, range: Range): number | null {
  const by = event.shiftKey ? range.page : range.step
  switch (event.key) {
    case 'ArrowUp':
    case 'ArrowRight':
      return bounded(range.value + by, range)
    case 'ArrowDown':
    case 'ArrowLeft':
      return bounded(range.value - by, range)
    case 'PageUp':
      return bounded(range.value + range.page, range)
    case 'PageDown':
      return bounded(range.value - range.page, range)
    case 'Home':
      return range.min
    case 'End':
      return range.max
    default:
      return null
  }
}

export interface Drag {
  /** A pointer's place in the plot; asked once, since a picture stands still under the hand. */
  pointAt: (event: { clientX: number; clientY: number }) => Point
  /** The value that a place means; a drag goes by the difference to where it began. */
  valueAt: (at: Point) => number
  range: Range
  move: (value: number, done: boolean) => void
  cancel: () => void
}

/**
 * Follow the pointer from a press on a handle to its release. `move` gets each new value, at most
 * one a frame, and at last the one where it was released; what was not moved is not changed, and
 * Escape takes everything back.
 */
export function drag(event: PointerEvent, { pointAt, valueAt, range, move, cancel }: Drag): void {
  if (event.button !== 0) return
  const target = event.currentTarget as Element
  const begun = pointAt(event)
  const there = (e: PointerEvent) =>
    valueAt({ x: begun.x + e.clientX - event.clientX, y: begun.y + e.clientY - event.clientY })
  // The scale may have become another one between the press and the first move.
  const value = (e: PointerEvent) => snapped(range.value + there(e) - valueAt(begun), range)
  target.setPointerCapture(event.pointerId)
  let moved = false
  let last = range.value
  let newest: PointerEvent | null = null
  let asked = 0
  const onMove = (e: PointerEvent) => {
    moved = true
    newest = e
    asked ||= requestAnimationFrame(() => {
      asked = 0
      const now = newest ? value(newest) : last
      if (now !== last) move((last = now), false)
    })
  }
  const stop = () => {
    cancelAnimationFrame(asked)
    newest = null
    target.removeEventListener('pointermove', onMove as EventListener)
    target.removeEventListener('pointerup', onUp as EventListener)
    target.removeEventListener('pointercancel', onCancel)
    removeEventListener('keydown', onKey, true)
  }
  const onUp = (e: PointerEvent) => {
    stop()
    if (moved) move(value(e), true)
  }
  const onCancel = () => {
    stop()
    if (moved) cancel()
  }
  const onKey = (e: KeyboardEvent) => {
    if (e.key !== 'Escape') return
    e.preventDefault()
    e.stopPropagation()
    onCancel()
  }
  target.addEventListener('pointermove', onMove as EventListener)
  target.addEventListener('pointerup', onUp as EventListener)
  target.addEventListener('pointercancel', onCancel)
  addEventListener('keydown', onKey, true)
}
