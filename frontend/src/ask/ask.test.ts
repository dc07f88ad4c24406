import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

import type { Problem } from '@/api/client'

import { keyOf, textOf } from './content'
import { inParts, linesOf } from './parts'
import { newLine, question, type Call, type Manner } from './question'
import { sent, withPlan } from './send'
import { told, type Reply } from './told'

const encoder = new TextEncoder()

/** A stream that a test feeds and ends. */
function fed() {
  let control: ReadableStreamDefaultController<Uint8Array>
  const stream = new ReadableStream<Uint8Array>({ start: (c) => void (control = c) })
  return {
    stream,
    send: (text: string) => control.enqueue(encoder.encode(text)),
    end: () => control.close(),
  }
}
const wrong = (status: number): Problem => ({
  type: 'x',
  title: `No ${status}`,
  status,
  detail: '',
  remedy: '',
  faults: [],
})

/** A server whose answers a test gives one by one. */
function server() {
  const calls: { wish: number; call: Call; reply: (reply: Reply<string>) => void }[] = []
  const send = (wish: number, call: Call) =>
    new Promise<Reply<string>>((reply, refuse) => {
      calls.push({ wish, call, reply })
      call.signal.addEventListener('abort', () => refuse(new Error('aborted')))
    })
  return { calls, send }
}
const turn = () => new Promise((done) => setTimeout(done))
const asking = (manner: Partial<Manner<number>> = {}) => {
  const far = server()
  return { far, asked: question<number, string>(far.send, { key: String, ...manner }) }
}

afterEach(() => vi.unstubAllGlobals())

describe('a question', () => {
  it('shows an answer for what it is about, and for nothing else', async () => {
    const { far, asked } = asking({ about: (wish) => (wish < 10 ? 'office' : 'line') })
    asked.ask(1)
    far.calls[0]?.reply({ data: 'one' })
    await turn()
    // An older answer about the same stays until the newer one is there.
    asked.ask(2)
    expect(asked.answer.value).toBe('one')
    asked.ask(10)
    expect([asked.answer.value, asked.key.value, asked.fits.value]).toEqual([null, '', false])
    far.calls.at(-1)?.reply({ error: wrong(422) })
    await turn()
    expect(asked.problem.value?.status).toBe(422)
    asked.ask(3)
    expect([asked.answer.value, asked.problem.value]).toEqual([null, null])
  })

  it('is answered', async () => {
    const { far, asked } = asking()
    asked.ask(1)
    expect([asked.busy.value, asked.asked.value]).toEqual([true, true])
    far.calls[0]?.reply({ data: 'one' })
    await turn()
    expect([asked.answer.value, asked.wish.value, asked.key.value]).toEqual(['one', 1, '1'])
    expect([asked.busy.value, asked.answered.value, asked.problem.value]).toEqual([false, 1, null])
  })

  it('works on one wish at a time and then on the newest', async () => {
    const { far, asked } = asking()
    for (const wish of [1, 2, 3, 4]) asked.ask(wish)
    expect(far.calls.map((each) => each.wish)).toEqual([1])
    far.calls[0]?.reply({ data: 'one' })
    await turn()
    expect(far.calls.map((each) => each.wish)).toEqual([1, 4])
    expect(asked.answer.value).toBe('one')
    far.calls[1]?.reply({ data: 'four' })
    await turn()
    expect([asked.answer.value, asked.busy.value]).toEqual(['four', false])
  })

  it('ends the older wish where the newer one is urgent', async () => {
    const { far, asked } = asking({ urgent: (wish) => wish > 9 })
    asked.ask(1)
    asked.ask(10)
    expect(far.calls.map((each) => each.call.signal.aborted)).toEqual([true, false])
    far.calls[0]?.reply({ data: 'late' })
    await turn()
    expect(asked.answer.value).toBeNull()
    far.calls[1]?.reply({ data: 'ten' })
    await turn()
    expect(asked.answer.value).toBe('ten')
  })

  it('asks nothing that is there or on its way', async () => {
    const { far, asked } = asking()
    asked.ask(1)
    asked.ask(1)
    far.calls[0]?.reply({ data: 'one' })
    await turn()
    asked.ask(1)
    expect(far.calls).toHaveLength(1)
    asked.again()
    expect(far.calls).toHaveLength(2)
  })

  it('goes back to what is there, and ends what is on its way', async () => {
    const { far, asked } = asking()
    asked.ask(1)
    far.calls[0]?.reply({ data: 'one' })
    await turn()
    asked.ask(2)
    asked.ask(1)
    expect(far.calls[1]?.call.signal.aborted).toBe(true)
    await turn()
    expect([asked.answer.value, asked.busy.value]).toEqual(['one', false])
  })

  it('lets no answer land that was forgotten', async () => {
    const { far, asked } = asking()
    asked.ask(1)
    asked.forget()
    far.calls[0]?.reply({ data: 'one' })
    await turn()
    expect([asked.answer.value, asked.busy.value, asked.asked.value]).toEqual([null, false, false])
  })

  it('keeps its answer while a later wish fails, and says what is wrong', async () => {
    const { far, asked } = asking()
    asked.ask(1)
    far.calls[0]?.reply({ data: 'one' })
    await turn()
    asked.ask(2)
    far.calls[1]?.reply({ error: wrong(422) })
    await turn()
    expect([asked.answer.value, asked.problem.value?.status]).toEqual(['one', 422])
    asked.ask(1)
    expect(far.calls).toHaveLength(3)
  })

  it('takes a wish that the server gave up for a newer one as no problem', async () => {
    const { far, asked } = asking()
    asked.ask(1)
    far.calls[0]?.reply({ response: new Response(null, { status: 204 }) })
    await turn()
    expect([asked.answer.value, asked.problem.value, asked.busy.value]).toEqual([null, null, false])
  })

  it('numbers its edits, and those of one line together', async () => {
    const line = newLine()
    const [one, two] = [asking({ line }), asking({ line })]
    one.asked.ask(1)
    two.asked.ask(1)
    const calls = [one.far.calls[0]?.call, two.far.calls[0]?.call]
    expect(calls.map((call) => call?.edit)).toEqual([1, 2])
    expect(calls[0]?.tab).toBe(calls[1]?.tab)
    expect(asking().asked).not.toBe(one.asked)
  })
})

describe('a server that is gone', () => {
  beforeEach(() => void vi.useFakeTimers())
  afterEach(() => void vi.useRealTimers())

  it('is tried again ever more slowly, and at last no more', async () => {
    const send = vi.fn(async (): Promise<Reply<string>> => ({ error: wrong(503) }))
    const asked = question<number, string>(send, { key: String })
    asked.ask(1)
    await vi.advanceTimersByTimeAsync(0)
    expect([asked.problem.value?.status, send.mock.calls.length]).toEqual([503, 1])
    await vi.advanceTimersByTimeAsync(500)
    expect(send).toHaveBeenCalledTimes(2)
    await vi.advanceTimersByTimeAsync(999)
    expect(send).toHaveBeenCalledTimes(2)
    await vi.advanceTimersByTimeAsync(600_000)
    expect(send).toHaveBeenCalledTimes(11)
    asked.again()
    expect(send).toHaveBeenCalledTimes(12)
  })

  it('is back: the newest wish is answered and the problem is over', async () => {
    let back = false
    const send = vi.fn(async (wish: number): Promise<Reply<string>> => {
      if (!back) throw new TypeError('no connection')
      return { data: `${wish}` }
    })
    const asked = question<number, string>(send, { key: String })
    asked.ask(1)
    await vi.advanceTimersByTimeAsync(0)
    expect(asked.problem.value?.status).toBe(0)
    asked.ask(2)
    await vi.advanceTimersByTimeAsync(0)
    back = true
    await vi.advanceTimersByTimeAsync(5_000)
    expect([asked.answer.value, asked.problem.value]).toEqual(['2', null])
  })

  it('is left alone where the wish cannot be', async () => {
    const send = vi.fn(async (): Promise<Reply<string>> => ({ error: wrong(422) }))
    const asked = question<number, string>(send, { key: String })
    asked.ask(1)
    await vi.advanceTimersByTimeAsync(60_000)
    expect(send).toHaveBeenCalledTimes(1)
  })
})

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
  const inTwo = () =>
    question<number, { sum: number }>((n, call) => inParts('/x', { plan: { n } }, call), {
      key: String,
      urgent: () => true,
    })

  it('tells how far it is and has the answer with the last part', async () => {
    const source = fed()
    vi.stubGlobal('fetch', async () => new Response(source.stream))
    const asked = inTwo()
    asked.ask(1)
    source.send('{"done":1,"of":3}\n')
    await turn()
    await turn()
    expect(asked.progress.value).toEqual({ done: 1, of: 3 })
    expect(asked.answer.value).toBeNull()
    source.send('{"done":3,"of":3,"answer":{"sum":6}}\n')
    source.end()
    await turn()
    await turn()
    expect(asked.answer.value).toEqual({ sum: 6 })
    expect([asked.progress.value, asked.busy.value]).toEqual([null, false])
  })

  it('is stopped here and on the server, and keeps what is there', async () => {
    const source = fed()
    let signal: AbortSignal | null | undefined
    vi.stubGlobal('fetch', async (_: string, init: RequestInit) => {
      signal = init.signal
      return new Response(source.stream)
    })
    const asked = inTwo()
    asked.ask(1)
    source.send('{"done":1,"of":3}\n')
    await turn()
    asked.stop()
    expect(signal?.aborted).toBe(true)
    expect([asked.busy.value, asked.progress.value, asked.asked.value]).toEqual([false, null, true])
  })

  it('counts as gone where the server is busy', async () => {
    const source = fed()
    vi.stubGlobal('fetch', async () => new Response(source.stream))
    const asked = inTwo()
    asked.ask(1)
    source.send('{"done":1,"of":3}\n{"busy":true}\n')
    source.end()
    await turn()
    await turn()
    expect(asked.problem.value?.status).toBe(0)
    asked.forget()
  })
})

describe('content', () => {
  it('has the key of which plan it is, and of what is asked of it', () => {
    const plan = { name: 'a', pools: [{ id: 'x', most: 3 }] }
    expect(keyOf(plan, 'x', null, 3)).toBe(keyOf(plan, 'x', null, 3))
    expect(keyOf(plan, 'x', null, 3)).not.toBe(keyOf(plan, 'y', null, 3))
    expect(keyOf(plan, 'x')).not.toBe(keyOf(structuredClone(plan), 'x'))
  })

  it('is written once for each value, and each of its parts once', () => {
    const plan = { name: 'a', pools: [{ id: 'x' }], groups: [{ id: 'g' }] }
    const written = vi.spyOn(JSON, 'stringify')
    try {
      const before = textOf(plan)
      expect(before).toBe('{"name":"a","pools":[{"id":"x"}],"groups":[{"id":"g"}]}')
      written.mockClear()
      expect(textOf(plan)).toBe(before)
      expect(written).not.toHaveBeenCalled()
      // Another plan with the same groups: they are not written again, the new pools are.
      const pools = [{ id: 'y' }]
      expect(textOf({ ...plan, pools })).toBe(before.replace('"x"', '"y"'))
      expect(written.mock.calls.map(([value]) => value)).not.toContain(plan.groups)
      expect(written.mock.calls.map(([value]) => value)).toContain(pools)
    } finally {
      written.mockRestore()
    }
    expect(JSON.parse(withPlan({ plan, pool: 'x', edit: 3 }))).toEqual({ plan, pool: 'x', edit: 3 })
    expect(JSON.parse(withPlan({ plan }))).toEqual({ plan })
  })
})

describe('a plan whose lists the server has named', () => {
  /** A server that keeps every list that it is sent, and says so. */
  function keeping() {
    const kept = new Map<string, unknown>()
    const bodies: { plan: Record<string, unknown>; parts?: Record<string, string> }[] = []
    const send = async (input: Request) => {
      const got = (await input.json()) as (typeof bodies)[number]
      bodies.push(got)
      if (Object.values(got.parts ?? {}).some((name) => !kept.has(name)))
        return Response.json({ type: '/problems/unknown-parts', title: '' }, { status: 422 })
      const names: Record<string, string> = {}
      for (const [field, value] of Object.entries(got.plan)) {
        if (typeof value !== 'object') continue
        names[field] = `${field} ${kept.size}`
        kept.set(names[field], value)
      }
      return Response.json({}, { headers: { 'Plan-Parts': JSON.stringify(names) } })
    }
    vi.stubGlobal('fetch', send)
    return { kept, bodies }
  }
  const ask = (plan: object) => {
    const how = sent({ plan, pool: 'x' })
    const body = how.bodySerializer(how.body)
    return how.fetch(new Request('http://here/api', { method: 'POST', body }))
  }

  it('is sent without them, and whole where the server has forgotten', async () => {
    const server = keeping()
    const [groups, pools] = [[{ id: 'g' }], [{ id: 'p', most: 3 }]]
    await ask({ name: 'a', groups, pools })
    expect(server.bodies.at(-1)).toEqual({ plan: { name: 'a', groups, pools }, pool: 'x' })

    const edited = { name: 'a', groups, pools: [{ id: 'p', most: 4 }] }
    await ask(edited)
    expect(server.bodies.at(-1)).toEqual({
      plan: { name: 'a', pools: edited.pools },
      pool: 'x',
      parts: { groups: 'groups 0' },
    })
    await ask(edited)
    expect(server.bodies.at(-1)?.plan).toEqual({ name: 'a' })

    server.kept.clear()
    expect((await ask(edited)).ok).toBe(true)
    expect(server.bodies.at(-1)).toEqual({ plan: edited, pool: 'x' })
    await ask(edited)
    expect(server.bodies.at(-1)?.plan).toEqual({ name: 'a' })
    expect(server.bodies.length).toBe(6)
  })

  it('hands on every other problem as it is', async () => {
    vi.stubGlobal('fetch', async () => Response.json({ type: '/problems/x' }, { status: 422 }))
    const answer = await ask({ name: 'a', groups: [] })
    expect([answer.status, await answer.json()]).toEqual([422, { type: '/problems/x' }])
  })
})

describe('a call', () => {
  it('tells its answer or its problem, whatever happens', async () => {
    expect(await told(Promise.resolve({ data: 3 }))).toEqual({ data: 3, problem: null })
    expect((await told(Promise.resolve({ error: wrong(404) }))).problem?.status).toBe(404)
    expect((await told(Promise.reject(new Error('x')))).problem?.status).toBe(0)
    expect((await told(Promise.resolve({ error: 'a page' }))).problem?.status).toBe(0)
  })
})
