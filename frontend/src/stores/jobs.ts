import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'

import { api, type Job, type Problem } from '@/api/client'
import { told } from '@/ask/told'

/** Milliseconds after which a stream that was refused is asked for again. */
const AGAIN_MS = 10_000

/** Long work of everybody, followed by one stream of events while any page looks at it. */
export const useJobs = defineStore('jobs', () => {
  const byId = shallowRef(new Map<number, Job>())
  const problem = shallowRef<Problem | null>(null)
  const all = computed(() => [...byId.value.values()].sort((a, b) => order(a) - order(b)))
  const live = computed(() => all.value.filter(isLive))
  let stream: EventSource | null = null

  function put(jobs: readonly Job[]): void {
    const next = new Map(byId.value)
    for (const job of jobs) next.set(job.id, job)
    byId.value = next
  }
  async function look(): Promise<void> {
    const answer = await told(api.GET('/api/jobs'))
    if (answer.data) put(answer.data.jobs)
  }
  function follow(): void {
    if (stream || typeof EventSource === 'undefined') return
    stream = new EventSource('/api/jobs/events')
    stream.addEventListener('anew', () => void look())
    stream.addEventListener('job', (event) => put([JSON.parse(event.data as string) as Job]))
    stream.onerror = () => {
      if (stream?.readyState !== EventSource.CLOSED) return
      stream = null
      setTimeout(follow, AGAIN_MS)
    }
    void look()
  }
  async function stop(id: number): Promise<void> {
    const path = { job_id: id }
    const answer = await told(api.POST('/api/jobs/{job_id}/stop', { params: { path } }))
    problem.value = answer.problem
    if (answer.data) put([answer.data.job])
  }
  return { byId, all, live, problem, put, follow, stop }
})

/** Whether a job runs, or waits for it. */
export function isLive(job: Job): boolean {
  return job.state === 'running' || job.state === 'waiting'
}
/** What runs or waits first, then the newest. */
const order = (job: Job) => (isLive(job) ? 0 : 1e12) - job.id
