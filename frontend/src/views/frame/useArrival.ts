import { nextTick, onMounted, watch, type Ref } from 'vue'

/** Whether a view was looked at before: the first page keeps the focus that the browser gives it. */
let before = false

/** A view says in the window's title what it is, and has the focus when it takes another's place. */
export function useArrival(root: Ref<HTMLElement | undefined>, title: () => string) {
  watch(title, (text) => (document.title = text), { immediate: true })

  function toMain(): void {
    const main = root.value?.querySelector('main')
    if (!main) return
    main.tabIndex = -1
    main.focus({ preventScroll: true })
  }
  onMounted(async () => {
    const first = !before
    before = true
    await nextTick()
    // What was added and waits for its name has the focus already.
    if (!first && !root.value?.contains(document.activeElement)) toMain()
  })
  return { toMain }
}
