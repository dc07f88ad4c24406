/** A point in the coordinates of a chart's plot. */
export interface Point {
  x: number
  y: number
}

/**
 * Follow the pointer from a press on a handle to its release. `move` gets its place once a frame,
 * and at last the one where it was released; a press without movement moves nothing.
 */
export function follow(
  event: PointerEvent,
  origin: Point,
  move: (at: Point, done: boolean) => void,
  cancel: () => void,
): void {
  if (event.button !== 0) return
  const target = event.currentTarget as SVGElement
  const frame = target.ownerSVGElement?.getBoundingClientRect()
  if (!frame) return
  const at = (e: PointerEvent): Point => ({
    x: e.clientX - frame.left - origin.x,
    y: e.clientY - frame.top - origin.y,
  })
  target.setPointerCapture(event.pointerId)
  let moved = false
  let newest: PointerEvent | null = null
  let frameAsked = 0
  const onMove = (e: PointerEvent) => {
    moved = true
    newest = e
    frameAsked ||= requestAnimationFrame(() => {
      frameAsked = 0
      if (newest) move(at(newest), false)
    })
  }
  const stop = () => {
    cancelAnimationFrame(frameAsked)
    newest = null
    target.removeEventListener('pointermove', onMove)
    target.removeEventListener('pointerup', onUp)
    target.removeEventListener('pointercancel', onCancel)
  }
  const onUp = (e: PointerEvent) => {
    stop()
    if (moved) move(at(e), true)
  }
  const onCancel = () => {
    stop()
    cancel()
  }
  target.addEventListener('pointermove', onMove)
  target.addEventListener('pointerup', onUp)
  target.addEventListener('pointercancel', onCancel)
}

const STEPS: Record<string, number> = {
  ArrowUp: 1,
  ArrowRight: 1,
  ArrowDown: -1,
  ArrowLeft: -1,
  PageUp: 6,
  PageDown: -6,
}

/** How many steps a key means for a slider, or undefined for any other key. */
export function stepsOf(event: KeyboardEvent): number | undefined {
  const step = STEPS[event.key]
  return step === undefined ? undefined : step * (event.shiftKey ? 6 : 1)
}
