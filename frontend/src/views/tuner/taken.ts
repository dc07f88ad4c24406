import { api, type Plan, type StudyPoint } from '@/api/client'
import { sent } from '@/ask/send'
import type { Reply } from '@/ask/told'

/** A design of a study: its pool and schedule as the study's answer tells them. */
export type Design = Pick<StudyPoint, 'pool' | 'schedule'>

export interface Taken {
  /** The study. */
  job: number
  design: Design
}
interface TakenPlan {
  plan: object
  both: string[]
}

/**
 * Have the server put designs into a plan: what their studies changed, and nothing else. The answer
 * names fields that were changed in the plan since a study began and that its design sets otherwise.
 */
export function withDesigns(
  plan: Plan,
  taken: readonly Taken[],
  signal?: AbortSignal,
): Promise<Reply<TakenPlan>> {
  const designs = taken.map(({ job, design: { pool, schedule } }) => ({ job, pool, schedule }))
  return api.POST('/api/studies/take', sent({ plan, designs }, signal))
}
