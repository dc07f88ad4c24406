import { onBeforeUnmount, shallowRef, type ShallowRef } from 'vue'

export interface Cursor<T> {
  at: ShallowRef<T | null>
  /** Where the pointer moves; looked at once a frame. */
  move: (event: PointerEvent) => void
  leave: () => void
}

/** What the pointer is at, as `place` tells it; nothing where it tells nothing. */
export function useCursor<T>(place: (event: PointerEvent) => T | null): Cursor<T> {
  const at = shallowRef<T | null>(null)
  let newest: PointerEvent | null = null
  let asked = 0
  function leave(): void {
    cancelAnimationFrame(asked)
    asked = 0
    newest = null
    at.value = null
  }
  function move(event: PointerEvent): void {
    // What is held is told by its handle.
    if (event.buttons) return leave()
    newest = event
    asked ||= requestAnimationFrame(() => {
      asked = 0
      at.value = newest ? place(newest) : null
    })
  }
  onBeforeUnmount(leave)
  return { at, move, leave }
}
