import { onBeforeUnmount, ref, shallowRef, type Ref } from 'vue'

import { problemOf, type Problem } from '@/api/client'

import type { Asked } from './asked'
import { newest } from './newest'

/** A line of a long answer: so many of so many steps are done, and with the last the whole. */
export interface Part<A> {
  done: number
  of: number
  busy?: boolean
  answer?: A
}

export interface AskedInParts<W, A> extends Asked<W, A> {
  /** How far the answer that is being worked on is; nothing while none is. */
  progress: Ref<{ done: number; of: number } | null>
  /** Whether anything has been asked for. */
  asked: Ref<boolean>
  /** Give up the answer that is being worked on. */
  stop: () => void
}

/** The lines of a stream of JSON values, each as soon as it is whole. */
export async function* linesOf<T>(stream: ReadableStream<Uint8Array>): AsyncGenerator<T> {
  const reader = stream.pipeThrough(new TextDecoderStream() as never).getReader()
  let left = ''
  for (;;) {
    const { done, value } = (await reader.read()) as ReadableStreamReadResult<string>
    const lines = (left + (value ?? '')).split('\n')
    left = lines.pop() ?? ''
    for (const line of lines) if (line) yield JSON.parse(line) as T
    if (done) return
  }
}

/**
 * A long question that follows the page. It is answered a step at a time, with progress; a newer
 * wish or `stop` ends the older one, here and on the server.
 */
export function askedInParts<W, A>(
  path: string,
  bodyOf: (wish: W, call: { tab: string; edit: number }) => object,
  each?: (part: Part<A>) => void,
): AskedInParts<W, A> {
  const answer = shallowRef<A | null>(null)
  const problem = shallowRef<Problem | null>(null)
  const answered = ref(0)
  const progress = ref<{ done: number; of: number } | null>(null)
  const asked = ref(false)
  const tab = crypto.randomUUID()
  let under: AbortController | null = null

  async function follow(wish: W, edit: number, signal: AbortSignal): Promise<'done' | 'gone'> {
    const response = await fetch(path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(bodyOf(wish, { tab, edit })),
      signal,
    })
    if (response.status === 204) return 'done'
    if (!response.ok || !response.body) {
      problem.value = problemOf(await response.json().catch(() => null))
      return response.status >= 500 ? 'gone' : 'done'
    }
    for await (const part of linesOf<Part<A>>(response.body)) {
      if (part.busy) return 'gone'
      progress.value = { done: part.done, of: part.of }
      each?.(part)
      if (part.answer) {
        answer.value = part.answer
        problem.value = null
        answered.value += 1
      }
    }
    return 'done'
  }

  const asker = newest<W>(async (wish, edit) => {
    const own = new AbortController()
    under = own
    try {
      return await follow(wish, edit, own.signal)
    } catch {
      if (own.signal.aborted) return 'done'
      problem.value = problemOf(null)
      return 'gone'
    } finally {
      if (under === own) {
        under = null
        progress.value = null
      }
    }
  })
  function stop(): void {
    asker.stop()
    under?.abort()
  }
  function ask(wish: W): void {
    under?.abort()
    asked.value = true
    asker.ask(wish)
  }
  function forget(): void {
    stop()
    asked.value = false
    answer.value = null
    problem.value = null
  }
  return { answer, problem, answered, busy: asker.busy, progress, asked, ask, stop, forget }
}

/** The same for as long as a component is there. */
export function useAskedInParts<W, A>(
  path: string,
  bodyOf: (wish: W, call: { tab: string; edit: number }) => object,
  each?: (part: Part<A>) => void,
): AskedInParts<W, A> {
  const found = askedInParts<W, A>(path, bodyOf, each)
  onBeforeUnmount(found.forget)
  return found
}
