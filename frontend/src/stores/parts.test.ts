import { afterEach, describe, expect, it, vi } from 'vitest'

import { askedInParts, linesOf } from './parts'

const encoder = new TextEncoder()

/** A stream that a test feeds and ends. */
function fed(): {
  stream: ReadableStream<Uint8Array>
  send: (text: string) => void
  end: () => void
} {
  let control: ReadableStreamDefaultController<Uint8Array>
  const stream = new ReadableStream<Uint8Array>({ start: (c) => void (control = c) })
  return {
    stream,
    send: (text) => control.enqueue(encoder.encode(text)),
    end: () => control.close(),
  }
}
const settled = () => new Promise((done) => setTimeout(done, 20))

afterEach(() => vi.unstubAllGlobals())

describe('lines of a stream', () => {
  it('are values as soon as they are whole, however the bytes are cut', async () => {
    const source = fed()
    source.send('{"a":1}\n{"a"')
    source.send(':"é')
    source.send('"}\n')
    source.end()
    const found: unknown[] = []
    for await (const value of linesOf(source.stream)) found.push(value)
    expect(found).toEqual([{ a: 1 }, { a: 'é' }])
  })
})

describe('a question answered in parts', () => {
  it('tells how far it is and has the answer with the last part', async () => {
    const source = fed()
    vi.stubGlobal(
      'fetch',
      vi.fn(async () => new Response(source.stream)),
    )
    const asked = askedInParts<number, { sum: number }>('/x', (n) => ({ n }))
    asked.ask(1)
    source.send('{"done":1,"of":3}\n')
    await settled()
    expect(asked.progress.value).toEqual({ done: 1, of: 3 })
    expect(asked.answer.value).toBeNull()
    source.send('{"done":3,"of":3,"answer":{"sum":6}}\n')
    source.end()
    await settled()
    expect(asked.answer.value).toEqual({ sum: 6 })
    expect([asked.progress.value, asked.busy.value]).toEqual([null, false])
  })

  it('ends the older question when a newer one comes', async () => {
    const sources = [fed(), fed()]
    const signals: AbortSignal[] = []
    const call = vi.fn(async (_: string, init: RequestInit) => {
      const source = sources[signals.length]
      signals.push(init.signal as AbortSignal)
      init.signal?.addEventListener('abort', () => source?.end())
      return new Response(source?.stream)
    })
    vi.stubGlobal('fetch', call)
    const asked = askedInParts<number, { sum: number }>('/x', (n) => ({ n }))
    asked.ask(1)
    await settled()
    asked.ask(2)
    expect(signals[0]?.aborted).toBe(true)
    await settled()
    sources[1]?.send('{"done":1,"of":1,"answer":{"sum":2}}\n')
    sources[1]?.end()
    await settled()
    expect(call).toHaveBeenCalledTimes(2)
    expect(asked.answer.value).toEqual({ sum: 2 })
  })

  it('shows what is wrong and keeps the last answer', async () => {
    const problem = { type: 'x', title: 'No', status: 422, detail: '', remedy: '', faults: [] }
    vi.stubGlobal(
      'fetch',
      vi.fn(async () => Response.json(problem, { status: 422 })),
    )
    const asked = askedInParts<number, { sum: number }>('/x', (n) => ({ n }))
    asked.ask(1)
    await settled()
    expect(asked.problem.value?.title).toBe('No')
    expect(asked.busy.value).toBe(false)
  })
})
