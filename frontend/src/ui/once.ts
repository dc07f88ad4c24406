import { ref, watch, type Ref } from 'vue'

/** Whether something has been so at any time: what is seldom needed is loaded then, and stays. */
export function useOnce(is: () => boolean): Ref<boolean> {
  const was = ref(is())
  watch(is, (now) => {
    was.value ||= now
  })
  return was
}
