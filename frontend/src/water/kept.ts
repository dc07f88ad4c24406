import { api, type LanesAnswer, type Plan, type WaitersAnswer } from '@/api/client'
import type { Call } from '@/ask/question'
import { about } from '@/ask/send'
import type { Reply } from '@/ask/told'

/** A week that is shown: the name of its answer, and what it was simulated of. */
export interface Shown {
  hash: string
  of: { plan: Plan; pool: string; first: string }
}
interface Window {
  start: number
  end: number
}

/** A server keeps what it has simulated for a while; one that does not have it is told the plan. */
async function kept<A>(
  looked: Promise<Reply<A>>,
  again: () => Promise<Reply<A>>,
): Promise<Reply<A>> {
  const found = await looked
  return found.response?.status === 404 ? again() : found
}

/** What is sent in place of a name that is not known. */
const told = ({ of: { plan, pool, first } }: Shown, window: Window, call: Call) =>
  about({ plan, pool, first, saved: false, ...window }, call)

/** Host lanes of a shown week. */
export function lanesOf(shown: Shown, window: Window, call: Call): Promise<Reply<LanesAnswer>> {
  const params = { path: { input_hash: shown.hash }, query: window }
  return kept<LanesAnswer>(
    api.GET('/api/simulations/{input_hash}/lanes', { params, signal: call.signal }),
    () => api.POST('/api/simulations/lanes', told(shown, window, call)),
  )
}

/** Who waited in a shown week. */
export function waitersOf(shown: Shown, window: Window, call: Call): Promise<Reply<WaitersAnswer>> {
  const params = { path: { input_hash: shown.hash }, query: window }
  return kept<WaitersAnswer>(
    api.GET('/api/simulations/{input_hash}/waiters', { params, signal: call.signal }),
    () => api.POST('/api/simulations/waiters', told(shown, window, call)),
  )
}
