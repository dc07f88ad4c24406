import { createPinia, setActivePinia } from 'pinia'
import { nextTick } from 'vue'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

import { api, type Job } from '@/api/client'

import { useJobs } from './jobs'
import { owner } from './page'
import { inParts } from './parts'
import { question } from './question'

const job = (more: Partial<Job> = {}): Job => ({
  id: 7,
  kind: 'pools',
  title: 'All pools',
  owner,
  link: '',
  state: 'running',
  problem: '',
  done: 0,
  parts: 3,
  left: null,
  asked_at: '2027-03-01T00:00:00Z',
  ended_at: null,
  ...more,
})
const turn = async () => {
  for (let k = 0; k < 5; k += 1) await new Promise((done) => setTimeout(done))
}

/** A server that answers a long question with a job, and then with what a test says. */
function server() {
  const asked: string[] = []
  const state = { job: job(), more: {} as object }
  vi.stubGlobal('fetch', async (input: string | Request, init?: RequestInit) => {
    const url = typeof input === 'string' ? input : new URL(input.url).pathname
    const method = typeof input === 'string' ? (init?.method ?? 'GET') : input.method
    asked.push(`${method} ${url}`)
    const said = { done: state.job.done, of: 3, job: state.job, since: state.job.done }
    if (method === 'POST') return new Response(`${JSON.stringify(said)}\n`)
    return Response.json({ ...said, ...state.more })
  })
  /** The job gets on, and pages hear of it. */
  const get = async (on: Partial<Job>, more: object = {}) => {
    state.job = { ...state.job, ...on }
    state.more = more
    useJobs().put([state.job])
    await nextTick()
    await turn()
  }
  const stop = vi.spyOn(useJobs(), 'stop').mockResolvedValue()
  return { asked, get, stop }
}
beforeEach(() => setActivePinia(createPinia()))
afterEach(() => vi.unstubAllGlobals())

const asking = (each?: (part: object) => void) =>
  question<number, { sum: number }>((n, call) => inParts('/x', { plan: { n } }, call, each), {
    key: String,
    urgent: () => true,
  })

describe('a long answer that a job works out', () => {
  it('is followed until it is there, each time for what is new', async () => {
    const far = server()
    const parts: object[] = []
    const found = asking((part) => parts.push(part))
    found.ask(1)
    await turn()
    expect(found.progress.value).toEqual({ done: 0, of: 3 })
    await far.get({ done: 2 })
    expect(found.progress.value).toEqual({ done: 2, of: 3 })
    await far.get({ done: 3, state: 'done' }, { answer: { sum: 6 } })
    expect(found.answer.value).toEqual({ sum: 6 })
    expect(far.asked).toEqual([
      'POST /x',
      'GET /x/7?since=0',
      'GET /x/7?since=0',
      'GET /x/7?since=2',
    ])
    expect(parts.length).toBe(3)
  })

  it('ends its job where it is given up here, and leaves it where the page goes', async () => {
    const far = server()
    const found = asking()
    found.ask(1)
    await turn()
    found.stop()
    await turn()
    expect(far.stop).toHaveBeenCalledWith(7)

    far.stop.mockClear()
    const left = asking()
    left.ask(2)
    await turn()
    left.forget()
    await turn()
    expect(far.stop).not.toHaveBeenCalled()
  })

  it('is asked for again only after the server has answered the stop', async () => {
    const far = server()
    far.stop.mockRestore()
    let answered = () => {}
    const stopping = vi.spyOn(api, 'POST').mockReturnValue(
      new Promise((done) => {
        answered = () => done({ error: {}, response: new Response() })
      }) as never,
    )
    const found = asking()
    found.ask(1)
    await turn()
    found.stop()
    found.again()
    await turn()
    expect(stopping).toHaveBeenCalledOnce()
    const posts = () => far.asked.filter((each) => each === 'POST /x').length
    expect(posts()).toBe(1)
    answered()
    await turn()
    expect(posts()).toBe(2)
  })

  it('leaves the job of another page alone', async () => {
    const far = server()
    const found = asking()
    found.ask(1)
    await turn()
    await far.get({ owner: 'another' })
    found.stop()
    await turn()
    expect(far.stop).not.toHaveBeenCalled()
  })

  it('says how a job has ended without an answer', async () => {
    const far = server()
    const found = asking()
    found.ask(1)
    await turn()
    await far.get({ state: 'failed', problem: 'too much' })
    expect(found.problem.value?.title).toBe('This has failed')
    expect(found.problem.value?.detail).toBe('too much')
  })
})

describe('jobs that a page knows', () => {
  it('are the newest', () => {
    const jobs = useJobs()
    jobs.put(Array.from({ length: 300 }, (_, k) => job({ id: k + 1 })))
    expect(jobs.byId.size).toBe(200)
    expect(jobs.byId.has(300)).toBe(true)
  })

  it('are waited for only until they are further', async () => {
    const jobs = useJobs()
    jobs.put([job({ done: 2 })])
    await jobs.more(job({ done: 1 }), new AbortController().signal)
    const control = new AbortController()
    const waiting = jobs.more(job({ done: 2 }), control.signal)
    control.abort()
    await expect(waiting).rejects.toThrow('given up')
  })
})
