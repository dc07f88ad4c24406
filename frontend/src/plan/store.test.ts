import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it, vi } from 'vitest'

import { api, type Edit, type Plan } from '@/api/client'

import { usePlan } from './store'

vi.mock('@/api/client', async (original) => {
  const calls = { GET: vi.fn(), POST: vi.fn(), PUT: vi.fn() }
  return { ...(await original<object>()), api: calls }
})

const server = api as unknown as Record<'GET' | 'POST' | 'PUT', ReturnType<typeof vi.fn>>
const planOf = (name: string) => ({ name }) as unknown as Plan
const answered = (data: object) => ({ data, response: new Response() })
/** An answer that comes when a test says so. */
function held() {
  let come: (answer: object) => void = () => {}
  const answer = new Promise((done) => (come = done))
  return {
    answer,
    come: (data?: object, error?: object) =>
      come(error ? { error, response: new Response() } : answered(data ?? {})),
  }
}
const tick = () => new Promise((done) => setTimeout(done, 2))
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

/** Another plan is opened, of which the server knows one revision. */
function openAnother(store: ReturnType<typeof usePlan>, number: number): Promise<unknown> {
  server.GET.mockImplementation(async (path: string) =>
    answered(
      path.endsWith('revisions')
        ? { revisions: [{ number }] }
        : { id: 8, number, plan: planOf('another') },
    ),
  )
  return store.load(8)
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

describe('an answer', () => {
  it('to a save lands nowhere once another plan is open', async () => {
    const store = await opened()
    store.edit((plan) => (plan.name = 'mine'))
    const save = held()
    server.PUT.mockReturnValue(save.answer)
    const saving = store.save('words')
    await openAnother(store, 4)
    save.come({ id: 7, number: 2, plan: planOf('mine') })
    await saving
    expect([store.id, store.saved?.number, store.plan?.name]).toEqual([8, 4, 'another'])
    expect([store.saving, store.dirty, store.canUndo]).toEqual([false, false, false])
  })

  it.each([412, 500])(
    'to a save that was refused (%i) says nothing of another plan',
    async (status) => {
      const store = await opened()
      store.edit((plan) => (plan.name = 'mine'))
      const save = held()
      server.PUT.mockReturnValue(save.answer)
      const saving = store.save('words')
      await openAnother(store, 4)
      save.come(undefined, { status, title: 'no', faults: [] })
      expect(await saving).toBe(false)
      expect([store.conflict, store.problem]).toEqual([null, null])
    },
  )

  it('to a merge or to an edit by the server leaves the plan that is open now', async () => {
    const store = await opened()
    store.edit((plan) => (plan.name = 'mine'))
    server.PUT.mockResolvedValue({
      error: { status: 412, title: 'no', latest: 2 },
      response: new Response(),
    })
    await store.save('words')
    expect(store.conflict).not.toBeNull()
    const late = held()
    server.POST.mockReturnValue(late.answer)
    const merging = store.resolve('yours')
    const applied = store.apply({} as Edit)
    await tick()
    await openAnother(store, 4)
    late.come({ plan: planOf('both'), latest: 4 })
    await merging
    expect(await applied).toBe(false)
    expect([store.plan?.name, store.dirty, store.problem]).toEqual(['another', false, null])
  })

  it('with the revisions of another plan is not shown', async () => {
    const store = await opened()
    const slow = held()
    server.GET.mockReturnValueOnce(slow.answer)
    const looking = store.look()
    const loading = openAnother(store, 9)
    expect(store.revisions).toEqual([])
    await loading
    slow.come({ revisions: [{ number: 1 }] })
    await looking
    expect(store.revisions.map(({ number }) => number)).toEqual([9])
  })

  it('that changes the plan takes nothing that was edited meanwhile', async () => {
    const store = await opened()
    const first = held()
    server.POST.mockReturnValueOnce(first.answer)
    const applied = store.apply({} as Edit)
    await tick()
    store.edit((plan) => (plan.name = 'mine'))
    server.POST.mockImplementation(async (_: string, { body }: { body: { plan: Plan } }) =>
      answered({ plan: { ...body.plan, week_of: 'done' } }),
    )
    first.come({ plan: { name: 'first', week_of: 'done' } })
    expect(await applied).toBe(true)
    expect(store.plan).toMatchObject({ name: 'mine', week_of: 'done' })
    store.undo()
    expect(store.plan?.name).toBe('mine')
  })

  it('that changes the plan is given up, and says so, where edits never cease', async () => {
    const store = await opened()
    let count = 0
    server.POST.mockImplementation(async () => {
      count += 1
      store.edit((plan) => (plan.name = `edit ${count}`))
      return answered({ plan: planOf('changed') })
    })
    expect(await store.apply({} as Edit)).toBe(false)
    expect(store.problem?.title).toContain('edited faster')
    expect(store.plan?.name).toBe(`edit ${count}`)
  })

  it('that changes the plan leaves a hand what it holds', async () => {
    const store = await opened()
    store.edit((plan) => (plan.name = 'held'), true)
    server.POST.mockResolvedValue(answered({ plan: { name: 'first', week_of: 'done' } }))
    await store.apply({} as Edit)
    expect(store.plan).toMatchObject({ name: 'held', week_of: 'done' })
    expect(store.settled).toMatchObject({ name: 'first', week_of: 'done' })
    store.cancelGesture()
    expect(store.plan?.name).toBe('first')
  })
})

describe('a gesture', () => {
  it('ends where it fails, and leaves the plan as it was', async () => {
    const store = await opened()
    store.edit((plan) => (plan.name = 'held'), true)
    expect(() =>
      store.edit(() => {
        throw new Error('no')
      }, true),
    ).toThrow('no')
    expect([store.plan?.name, store.dirty]).toEqual(['first', false])
  })
})

describe('another save', () => {
  const saved = (number: number, name: string) =>
    server.GET.mockImplementation(async (path: string) =>
      answered(
        path.endsWith('revisions')
          ? { revisions: [{ number }, { number: 1 }] }
          : { id: 7, number, plan: planOf(name) },
      ),
    )

  it('is shown where nothing is edited', async () => {
    const store = await opened()
    saved(2, 'theirs')
    await store.look()
    expect([store.plan?.name, store.saved?.number, store.newer]).toEqual(['theirs', 2, null])
  })

  it('is told where something is, and takes nothing', async () => {
    const store = await opened()
    store.edit((plan) => (plan.name = 'mine'))
    saved(2, 'theirs')
    await store.look()
    expect([store.plan?.name, store.saved?.number, store.newer?.number]).toEqual(['mine', 1, 2])
  })
})

describe('going back', () => {
  it('is to the revision that the edit began with, and can be undone', async () => {
    const store = await opened()
    store.edit((plan) => (plan.name = 'mine'))
    store.discard()
    expect([store.plan?.name, store.dirty]).toEqual(['first', false])
    store.undo()
    expect([store.plan?.name, store.dirty]).toEqual(['mine', true])
  })
})

describe('an edit that was kept in the browser', () => {
  const drafts = () => Object.keys(localStorage).filter((key) => key.includes('.draft.7.'))

  it('is kept as long as it differs from the revision', async () => {
    const store = await opened()
    store.edit((plan) => (plan.name = 'mine'))
    dispatchEvent(new Event('pagehide'))
    expect(drafts()).toHaveLength(1)
    store.undo()
    dispatchEvent(new Event('pagehide'))
    expect(drafts()).toEqual([])
  })

  const kept = (text: string) => localStorage.setItem('idle-harbor.draft.7.gone', text)

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
