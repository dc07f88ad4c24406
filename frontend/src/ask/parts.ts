import { withNames } from './names'
import type { Call } from './question'
import { withPlan } from './send'
import type { Reply } from './told'

/** A line of a long answer: so many of so many steps are done, and with the last the whole. */
export interface Part<A> {
  done: number
  of: number
  busy?: boolean
  answer?: A
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
 * Sends a long question about a plan: it is answered a step at a time, and `each` sees the lines as they come.
 * A server that is busy, or breaks off before the whole is there, counts as gone.
 */
export async function inParts<A>(
  path: string,
  body: { plan: object },
  call: Call,
  each?: (part: Part<A>) => void,
): Promise<Reply<A>> {
  const send = () =>
    fetch(path, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: withPlan(body),
      signal: call.signal,
    })
  const response = await withNames(body.plan, send(), send)
  if (response.status === 204) return { response }
  if (!response.ok || !response.body) {
    return { error: await response.json().catch(() => undefined), response }
  }
  for await (const part of linesOf<Part<A>>(response.body)) {
    if (part.busy) break
    call.progress({ done: part.done, of: part.of })
    each?.(part)
    if (part.answer) return { data: part.answer, response }
  }
  return {}
}
