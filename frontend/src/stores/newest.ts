import { ref, type Ref } from 'vue'

const RETRY_MS = 1500

/** What became of a wish: answered (or refused for good), or the server was gone. */
export type Outcome = 'done' | 'gone'

export interface Newest<W> {
  busy: Ref<boolean>
  /** Ask for this instead of whatever was asked for before. */
  ask: (wish: W) => void
  stop: () => void
}

/**
 * Works on one wish at a time, always the newest; those in between are left out. While the server
 * is gone the newest is tried again until it is back.
 */
export function newest<W>(work: (wish: W, number: number) => Promise<Outcome>): Newest<W> {
  const busy = ref(false)
  let next: { wish: W; number: number } | null = null
  let running = false
  let count = 0
  let retry: ReturnType<typeof setTimeout> | undefined

  async function drain(): Promise<void> {
    clearTimeout(retry)
    running = true
    busy.value = true
    while (next) {
      const current: { wish: W; number: number } = next
      next = null
      if ((await work(current.wish, current.number)) === 'gone') {
        next ??= current
        retry = setTimeout(() => void drain(), RETRY_MS)
        break
      }
    }
    running = false
    busy.value = false
  }

  return {
    busy,
    ask(wish) {
      count += 1
      next = { wish, number: count }
      if (!running) void drain()
    },
    stop() {
      next = null
      clearTimeout(retry)
    },
  }
}
