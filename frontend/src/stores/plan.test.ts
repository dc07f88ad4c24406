import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'

import { api, type Edit, type Plan } from '@/api/client'

import { usePlan } from './plan'

vi.mock('@/api/client', async (original) => {
  const calls = { GET: vi.fn(), POST: vi.fn(), PUT: vi.fn() }
  return { ...(await original<object>()), api: calls }
})

const server = api as unknown as Record<'GET' | 'POST' | 'PUT', ReturnType<typeof vi.fn>>
const planOf = (name: string) => ({ name }) as unknown as Plan
const answered = (data: object) => ({ data, response: new Response() })
const later = async (data: object) => {
  await new Promise((done) => setTimeout(done, 5))
  return answered(data)
}

/** A store with the first revision of a plan. */
async function opened() {
  const store = usePlan()
  server.GET.mockImplementation(async (path: string) =>
    path.endsWith('revisions')
      ? later({ revisions: [{ number: 1 }] })
      : answered({ id: 7, number: 1, plan: planOf('first') }),
  )
  await store.load(7)
  return store
}

beforeEach(() => {
  // What the test before this one has not written yet.
  dispatchEvent(new Event('pagehide'))
  localStorage.clear()
  setActivePinia(createPinia())
  for (const call of Object.values(server)) call.mockReset()
})

describe('edits that the server does', () => {
  it('are done one after the other, each on what the one before it made', async () => {
    const store = await opened()
    const asked: { plan: Plan; done: (plan: Plan) => void }[] = []
    server.POST.mockImplementation((_: string, { body }: { body: { plan: Plan } }) => {
      const { plan } = body
      return new Promise((done) =>
        asked.push({ plan, done: (made) => done(answered({ plan: made })) }),
      )
    })
    const edits = [store.apply({} as Edit), store.apply({} as Edit)]
    await vi.waitFor(() => expect(asked).toHaveLength(1))
    await new Promise((done) => setTimeout(done, 5))
    expect(asked.map(({ plan }) => plan.name)).toEqual(['first'])
    asked[0]?.done(planOf('second'))
    await vi.waitFor(() => expect(asked).toHaveLength(2))
    expect(asked[1]?.plan.name).toBe('second')
    asked[1]?.done(planOf('third'))
    expect(await Promise.all(edits)).toEqual([true, true])
    expect(store.plan?.name).toBe('third')
    store.undo()
    expect(store.plan?.name).toBe('second')
  })
})

describe('an edit that was kept in the browser', () => {
  const kept = (text: string) => localStorage.setItem('idle-harbor.draft.7', text)

  it.each(['5', '[]', 'null', '{', '{"base":1,"plan":null}', '{"base":"x","plan":{}}'])(
    'is set aside where it is none: %s',
    async (text) => {
      kept(text)
      const store = await opened()
      expect(store.plan?.name).toBe('first')
      expect(store.note).toContain('cannot be read')
      store.understood()
      expect((await opened()).note).toBe('')
    },
  )

  it('is set aside where the server cannot read its plan, and shown where it can', async () => {
    kept('{"base":1,"plan":{"name":"mine"}}')
    server.POST.mockResolvedValue({
      error: { type: '/problems/plan-cannot-be', title: 'no', status: 422, faults: [] },
      response: new Response(),
    })
    expect((await opened()).note).toContain('cannot be read')
    server.POST.mockResolvedValue(answered({ plan: planOf('mine') }))
    const store = await opened()
    expect([store.plan?.name, store.restored, store.note]).toEqual(['mine', true, ''])
  })

  it('is missed, and said to be, where the browser keeps nothing', async () => {
    const forbidden = vi.spyOn(window, 'localStorage', 'get').mockImplementation(() => {
      throw new DOMException('no', 'SecurityError')
    })
    const store = await opened()
    expect(store.plan?.name).toBe('first')
    expect(store.note).toContain('keeps nothing')
    store.edit((plan) => (plan.name = 'mine'))
    expect(store.plan?.name).toBe('mine')
    forbidden.mockRestore()
  })
})

describe('a save', () => {
  it('is over once the list of revisions is read anew', async () => {
    const store = await opened()
    store.edit((plan) => (plan.name = 'mine'))
    const saved = { id: 7, number: 2, plan: planOf('mine') }
    server.PUT.mockResolvedValue(answered(saved))
    server.GET.mockImplementation(() => later({ revisions: [{ number: 2 }, { number: 1 }] }))
    expect(await store.save('words')).toBe(true)
    expect(store.revisions.map(({ number }) => number)).toEqual([2, 1])
    expect(server.PUT.mock.calls[0]?.[1].headers).toEqual({ 'If-Match': '"1"' })
  })
})
