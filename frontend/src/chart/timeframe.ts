import { computed, inject, onBeforeUnmount, provide, shallowRef, watch } from 'vue'
import type { ComputedRef, InjectionKey, Ref, ShallowRef } from 'vue'

/** Which stretch of time a picture shows, in seconds. */
export interface View {
  from: number
  to: number
}

/** The shortest stretch that is shown, in seconds. */
const SHORTEST = 600

/** A view after zooming around an instant: never beyond the whole, never shorter than useful. */
export function zoomed(view: View, whole: View, around: number, factor: number): View {
  const length = bounded((view.to - view.from) * factor, whole)
  const part = (around - view.from) / (view.to - view.from)
  return placed(around - part * length, length, whole)
}

/** A view moved by so many seconds within the whole. */
export function panned(view: View, whole: View, seconds: number): View {
  return placed(view.from + seconds, view.to - view.from, whole)
}

/** The stretch between two instants, whichever comes first, as a view of the whole. */
export function between(one: number, other: number, whole: View): View {
  const [from, to] = [Math.min(one, other), Math.max(one, other)]
  const length = bounded(to - from, whole)
  return placed((from + to - length) / 2, length, whole)
}

const bounded = (length: number, whole: View) => {
  const all = whole.to - whole.from
  return Math.max(Math.min(length, all), Math.min(SHORTEST, all))
}

function placed(from: number, length: number, whole: View): View {
  const begin = Math.max(whole.from, Math.min(from, whole.to - length))
  return { from: begin, to: begin + length }
}

/** What pictures above each other share: the stretch of time shown, and the instant pointed at. */
export interface Timeframe {
  view: Readonly<ShallowRef<View>>
  /** Whether a part of the whole is shown. */
  partly: ComputedRef<boolean>
  cursor: ShallowRef<number | null>
  /** Show another stretch, as it follows from the one wished for by now; once a frame. */
  look: (to: (view: View, whole: View) => View) => void
  zoom: (factor: number, around?: number) => void
  pan: (seconds: number) => void
  showAll: () => void
}

const FRAME: InjectionKey<Timeframe> = Symbol('time frame')

function timeframe(begins: Ref<number>, ends: Ref<number>): Timeframe {
  const whole = computed<View>(() => ({ from: begins.value, to: ends.value }))
  const view = shallowRef<View>(whole.value)
  const cursor = shallowRef<number | null>(null)
  watch([begins, ends], () => {
    view.value = whole.value
    cursor.value = null
  })
  const partly = computed(() => view.value.to - view.value.from < ends.value - begins.value)

  /** What is wished of the view until the next frame: many turns of a wheel come between two. */
  let wished: View | null = null
  let asked = 0
  function look(to: (view: View, whole: View) => View): void {
    wished = to(wished ?? view.value, whole.value)
    asked ||= requestAnimationFrame(() => {
      asked = 0
      if (wished) view.value = wished
      wished = null
    })
  }
  onBeforeUnmount(() => cancelAnimationFrame(asked))

  return {
    view,
    partly,
    cursor,
    look,
    zoom: (factor, around) =>
      look((now, all) => zoomed(now, all, around ?? (now.from + now.to) / 2, factor)),
    pan: (seconds) => look((now, all) => panned(now, all, seconds)),
    showAll: () => look((_, all) => all),
  }
}

/** Let the pictures below share one stretch of time. */
export function provideTimeframe(begins: Ref<number>, ends: Ref<number>): Timeframe {
  const frame = timeframe(begins, ends)
  provide(FRAME, frame)
  return frame
}

/** The stretch of time that is shared with other pictures, or one of the picture's own. */
export const useTimeframe = (begins: Ref<number>, ends: Ref<number>): Timeframe =>
  inject(FRAME, () => timeframe(begins, ends), true)
