import type { Ref } from 'vue'

import { panned, type Timeframe } from './timeframe'

/**
 * The stretch of time that a picture shows, in its pixels: zoomed by the wheel with Ctrl, moved by
 * the wheel with Shift or by the hand. `plot` is its width and `xAt` where a pointer is in it.
 */
export function useSpan(
  { view, partly, look, zoom }: Timeframe,
  plot: Ref<number>,
  xAt: (event: MouseEvent) => number,
) {
  const timeOf = (x: number) =>
    view.value.from + (x / plot.value) * (view.value.to - view.value.from)
  const xOf = (time: number) =>
    ((time - view.value.from) / (view.value.to - view.value.from)) * plot.value

  function wheel(event: WheelEvent): void {
    if (event.ctrlKey || event.metaKey) {
      zoom(Math.exp(event.deltaY * 0.004), timeOf(xAt(event)))
    } else if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
      const by = (event.deltaX || event.deltaY) / plot.value
      look((now, whole) => panned(now, whole, by * (now.to - now.from)))
    } else return
    event.preventDefault()
  }

  /** Follow the hand while only a part is seen; what scrolls follows it up and down. */
  function grab(event: PointerEvent, scroller: HTMLElement): void {
    if (event.button !== 0 || !partly.value) return
    const [begun, top, seen] = [
      { x: event.clientX, y: event.clientY },
      scroller.scrollTop,
      view.value,
    ]
    const target = event.currentTarget as HTMLElement
    target.setPointerCapture(event.pointerId)
    const onMove = (e: PointerEvent) => {
      const by = ((begun.x - e.clientX) / plot.value) * (seen.to - seen.from)
      scroller.scrollTop = top + begun.y - e.clientY
      look((_, whole) => panned(seen, whole, by))
    }
    const stop = () => {
      target.removeEventListener('pointermove', onMove)
      target.removeEventListener('pointerup', stop)
      target.removeEventListener('pointercancel', stop)
    }
    target.addEventListener('pointermove', onMove)
    target.addEventListener('pointerup', stop)
    target.addEventListener('pointercancel', stop)
  }

  return { timeOf, xOf, wheel, grab }
}
