import { computed, onBeforeUnmount, shallowRef, watch, type Ref } from 'vue'

/** Which stretch of time a picture shows, in seconds. */
export interface View {
  from: number
  to: number
}

/** The shortest stretch that is shown, in seconds. */
const SHORTEST = 600

/** A view after zooming around an instant: never beyond the whole, never shorter than useful. */
export function zoomed(view: View, whole: View, around: number, factor: number): View {
  const all = whole.to - whole.from
  const length = Math.max(Math.min((view.to - view.from) * factor, all), Math.min(SHORTEST, all))
  const part = (around - view.from) / (view.to - view.from)
  return placed(around - part * length, length, whole)
}

/** A view moved by so many seconds within the whole. */
export function panned(view: View, whole: View, seconds: number): View {
  return placed(view.from + seconds, view.to - view.from, whole)
}

function placed(from: number, length: number, whole: View): View {
  const begin = Math.max(whole.from, Math.min(from, whole.to - length))
  return { from: begin, to: begin + length }
}

/**
 * The stretch of time that a picture shows: zoomed by the wheel with Ctrl, moved by the wheel with
 * Shift or by the hand. `plot` is its width and `xAt` where a pointer is in it, in pixels.
 */
export function useSpan(
  begins: Ref<number>,
  ends: Ref<number>,
  plot: Ref<number>,
  xAt: (event: MouseEvent) => number,
) {
  const whole = computed<View>(() => ({ from: begins.value, to: ends.value }))
  const view = shallowRef<View>(whole.value)
  watch([begins, ends], () => (view.value = whole.value))
  const partly = computed(() => view.value.to - view.value.from < ends.value - begins.value)
  const timeOf = (x: number) =>
    view.value.from + (x / plot.value) * (view.value.to - view.value.from)
  const xOf = (time: number) =>
    ((time - view.value.from) / (view.value.to - view.value.from)) * plot.value

  /** What is wished of the view until the next frame: many turns of a wheel come between two. */
  let wished: View | null = null
  let asked = 0
  function look(to: (view: View) => View): void {
    wished = to(wished ?? view.value)
    asked ||= requestAnimationFrame(() => {
      asked = 0
      if (wished) view.value = wished
      wished = null
    })
  }
  onBeforeUnmount(() => cancelAnimationFrame(asked))

  const zoom = (factor: number, around = (view.value.from + view.value.to) / 2) =>
    look((now) => zoomed(now, whole.value, around, factor))
  const pan = (seconds: number) => look((now) => panned(now, whole.value, seconds))

  function wheel(event: WheelEvent): void {
    if (event.ctrlKey || event.metaKey) {
      zoom(Math.exp(event.deltaY * 0.004), timeOf(xAt(event)))
    } else if (event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)) {
      const by = (event.deltaX || event.deltaY) / plot.value
      look((now) => panned(now, whole.value, by * (now.to - now.from)))
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
      look(() => panned(seen, whole.value, by))
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

  return { view, partly, timeOf, xOf, zoom, pan, wheel, grab }
}
