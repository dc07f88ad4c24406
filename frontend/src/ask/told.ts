import { problemOf, type Problem } from '@/api/client'

/** What a call to the server gives: `response` is missing where it was never reached. */
export interface Reply<A> {
  data?: A
  error?: unknown
  response?: Response
}

/** What came of a call: its answer, or the problem that there is in place of it. */
export type Told<A> = { data: A; problem: null } | { data: null; problem: Problem }

/** A call to the server whose failure is a problem to be shown, whatever it was. */
export async function told<A>(call: Promise<Reply<A>>): Promise<Told<A>> {
  let reply: Reply<A>
  try {
    reply = await call
  } catch {
    return { data: null, problem: problemOf(null) }
  }
  if (reply.data !== undefined && reply.data !== null) return { data: reply.data, problem: null }
  return { data: null, problem: problemOf(reply.error) }
}

/** Whether a problem may be over by itself: the server was not there, or at its limit. */
export function passing(problem: Problem): boolean {
  return problem.status === 0 || problem.status >= 500
}
