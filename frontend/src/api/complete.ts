import type { Reply } from '@/ask/told'

import { api, type Plan } from './client'

/** A plan with something added to it, every default of which the server fills in. */
export async function withMore(
  plan: Plan,
  more: Record<string, unknown>,
): Promise<Reply<{ plan: object }>> {
  const body = { plan: { ...plan, ...more } as never, words: '', author: 'planner' }
  return api.POST('/api/plans/complete', { body })
}
