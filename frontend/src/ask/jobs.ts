import { defineStore } from 'pinia'
import { computed, ref, shallowRef, watch } from 'vue'

import { api, type Job, type Problem } from '@/api/client'

import { told } from './told'
import { followTogether } from './together'

/** Milliseconds after which a job is looked at though nothing was heard of it. */
const LOOK_MS = 5_000
/** Jobs that a page knows at most: the newest. */
const MOST = 200

/** Stops that the server has not answered yet. */
const stopping = new Set<Promise<void>>()

/** Waits for the stops sent so far, where there are any: they would stop a job that is asked for meanwhile. */
export function stopsAnswered(): Promise<unknown> | null {
  return stopping.size ? Promise.allSettled(stopping) : null
}

/** Long work of everybody, followed by one stream of events for all pages. */
export const useJobs = defineStore('jobs', () => {
  const byId = shallowRef(new Map<number, Job>())
  /** How many processes are there to work. */
  const workers = ref(1)
  const problem = shallowRef<Problem | null>(null)
  const all = computed(() => [...byId.value.values()].sort((a, b) => order(a) - order(b)))
  const live = computed(() => all.value.filter(isLive))
  let followed = false

  /** How often something was heard, and when last of each job: an older answer does not undo it. */
  let now = 0
  const heard = new Map<number, number>()

  function put(jobs: readonly Job[], asked = now): void {
    const next = new Map(byId.value)
    for (const job of jobs) if ((heard.get(job.id) ?? 0) <= asked) next.set(job.id, job)
    for (const id of [...next.keys()].sort((a, b) => a - b).slice(0, -MOST)) next.delete(id)
    byId.value = next
  }
  function hear(job: Job): void {
    heard.set(job.id, ++now)
    put([job])
  }
  async function look(): Promise<void> {
    const asked = now
    const answer = await told(api.GET('/api/jobs'))
    if (!answer.data) return
    workers.value = answer.data.workers
    put(answer.data.jobs, asked)
  }
  function follow(): void {
    if (followed) return
    followed = true
    followTogether(
      '/api/jobs/events',
      ['anew', 'job'],
      (kind, data) => (kind === 'job' ? hear(JSON.parse(data) as Job) : void look()),
      () => void look(),
    )
  }
  /** Wait until a job is further than it was, or a while; raises where the signal ends it. */
  function more(was: Job, signal: AbortSignal): Promise<void> {
    const further = () => {
      const now = byId.value.get(was.id)
      return now !== undefined && (now.done !== was.done || now.state !== was.state)
    }
    if (further()) return Promise.resolve()
    return new Promise((resolve, reject) => {
      const timer = setTimeout(done, LOOK_MS)
      const unwatch = watch(byId, () => further() && done())
      function over(): void {
        clearTimeout(timer)
        unwatch()
        signal.removeEventListener('abort', given)
      }
      function done(): void {
        over()
        resolve()
      }
      function given(): void {
        over()
        reject(new DOMException('given up', 'AbortError'))
      }
      signal.addEventListener('abort', given)
    })
  }
  function stop(id: number): Promise<void> {
    const sent = sendStop(id).finally(() => stopping.delete(sent))
    stopping.add(sent)
    return sent
  }
  async function sendStop(id: number): Promise<void> {
    const path = { job_id: id }
    const answer = await told(api.POST('/api/jobs/{job_id}/stop', { params: { path } }))
    problem.value = answer.problem
    if (answer.data) put([answer.data.job])
  }
  /** Have one that was stopped or has failed go on where it was. */
  async function again(id: number): Promise<void> {
    const path = { job_id: id }
    const answer = await told(api.POST('/api/jobs/{job_id}/again', { params: { path } }))
    problem.value = answer.problem
    if (answer.data) put([answer.data.job])
  }
  return { byId, all, live, workers, problem, put, follow, more, stop, again }
})

/** Whether a job runs, or waits for it. */
export function isLive(job: Job): boolean {
  return job.state === 'running' || job.state === 'waiting'
}
/** What runs or waits first, then the newest. */
const order = (job: Job) => (isLive(job) ? 0 : 1e12) - job.id
