import { told } from '@/ask/told'

import { api, type Plan, type Problem } from './client'

/** A plan whose newest parts may still lack fields that have defaults. */
export type Sketch = Record<string, unknown>

/** The plan with every default filled in by the server, or the problem that it has. */
export async function completed(
  sketch: Sketch,
): Promise<{ plan: Plan; problem: null } | { plan: null; problem: Problem }> {
  const body = { plan: sketch as never, words: '', author: 'planner' }
  const answer = await told(api.POST('/api/plans/complete', { body }))
  if (answer.data) return { plan: answer.data.plan as unknown as Plan, problem: null }
  return { plan: null, problem: answer.problem }
}
