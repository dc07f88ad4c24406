import { onBeforeUnmount, ref, watch, type Ref } from 'vue'

/** The width of an element as it is laid out, in whole pixels. */
export function useWidth(frame: Ref<HTMLElement | undefined>, first: number): Ref<number> {
  const width = ref(first)
  const watcher = new ResizeObserver(([entry]) => {
    if (entry) width.value = Math.floor(entry.contentRect.width)
  })
  watch(frame, (element, before) => {
    if (before) watcher.unobserve(before)
    if (element) watcher.observe(element)
  })
  onBeforeUnmount(() => watcher.disconnect())
  return width
}
