import type { Job, Problem } from '@/api/client'

import { isLive, stopsAnswered, useJobs } from './jobs'
import { withNames } from './names'
import { owner } from './page'
import { LEFT, type Call } from './question'
import { withPlan } from './send'
import type { Reply } from './told'

/** A part of a long answer: so many of so many steps are done, and with the last the whole. */
export interface Part<A> {
  done: number
  of: number
  busy?: boolean
  answer?: A | null
  /** The job that works the answer out, where it takes longer than a page should wait. */
  job?: Job | null
  since?: number
}

/** The lines of a stream of JSON values, each as soon as it is whole. */
export async function* linesOf<T>(stream: ReadableStream<Uint8Array>): AsyncGenerator<T> {
  const reader = stream.pipeThrough(new TextDecoderStream() as never).getReader()
  let left = ''
  try {
    for (;;) {
      const { done, value } = (await reader.read()) as ReadableStreamReadResult<string>
      const lines = (left + (value ?? '')).split('\n')
      left = lines.pop() ?? ''
      for (const line of lines) if (line) yield JSON.parse(line) as T
      if (done) return
    }
  } finally {
    // Whoever reads no further lets go of the connection too.
    reader.cancel().catch(() => undefined)
  }
}

/**
 * Sends a long question about a plan: it is answered a step at a time, by the server that was asked or by a job, and
 * `each` sees the parts as they come.
 * A server that is busy, or breaks off before the whole is there, counts as gone.
 */
export async function inParts<A>(
  path: string,
  body: { plan: object },
  call: Call,
  each?: (part: Part<A>) => void,
): Promise<Reply<A>> {
  const stops = stopsAnswered()
  if (stops) await stops
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
    if (part.job) return followed(path, part.job, call, each)
    call.progress({ done: part.done, of: part.of })
    each?.(part)
    if (part.answer) return { data: part.answer, response }
  }
  return {}
}

/** What a job does of an answer, as it gets done; who gives the question up while it is theirs ends the job. */
async function followed<A>(
  path: string,
  begun: Job,
  call: Call,
  each?: (part: Part<A>) => void,
): Promise<Reply<A>> {
  const jobs = useJobs()
  jobs.put([begun])
  const end = () => {
    const now = jobs.byId.get(begun.id)
    if (call.signal.reason !== LEFT && now && isLive(now) && now.owner === owner)
      void jobs.stop(begun.id)
  }
  call.signal.addEventListener('abort', end)
  try {
    for (let since = 0; ;) {
      const response = await fetch(`${path}/${begun.id}?since=${since}`, { signal: call.signal })
      if (!response.ok) return { error: await response.json().catch(() => undefined), response }
      const part = (await response.json()) as Part<A> & { job: Job }
      since = part.since ?? 0
      call.progress({ done: part.done, of: part.of })
      each?.(part)
      if (part.answer) return { data: part.answer, response }
      if (!isLive(part.job)) return { error: ended(part.job), response }
      await jobs.more(part.job, call.signal)
    }
  } finally {
    call.signal.removeEventListener('abort', end)
  }
}

function ended(job: Job): Problem {
  const stopped = job.state === 'stopped'
  return {
    type: '/problems/job-ended',
    title: stopped ? 'This was stopped' : 'This has failed',
    status: 409,
    detail: stopped ? `${job.done} of ${job.parts} steps are done and kept` : job.problem,
    remedy: stopped ? 'ask again: it goes on where it was' : 'mend what is said here and ask again',
    faults: [],
  }
}
