import { onBeforeUnmount, ref, watch } from 'vue'

import { usePlan } from './store'

/**
 * What a hand does to the plan while it holds a handle. The plan changes no quicker than the
 * pictures of it come: the handle follows the hand by itself, and all else is drawn less often.
 * A gesture ends with its view.
 *
 * `busy` tells whether a picture is waited for.
 */
export function useGesture(busy: () => boolean) {
  const store = usePlan()
  const holding = ref(false)
  /** The newest place of the handle, whose plan is not looked at yet. */
  let waiting: (() => void) | null = null

  function look(): void {
    const now = waiting
    waiting = null
    now?.()
  }
  watch(busy, (is) => is || look())

  function move(edit: () => void, done: boolean): void {
    holding.value = !done
    waiting = done ? null : edit
    if (done) edit()
    else if (!busy()) look()
  }
  function cancel(): void {
    holding.value = false
    waiting = null
    store.cancelGesture()
  }
  onBeforeUnmount(() => {
    if (holding.value) cancel()
  })
  return { holding, move, cancel }
}
