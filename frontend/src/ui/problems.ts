import type { Problem } from '@/api/client'

/** A problem that is not already shown above: two questions often fail for one reason. */
export function unlike(problem: Problem | null, above: Problem | null): Problem | null {
  const same = problem?.type === above?.type && problem?.detail === above?.detail
  return same ? null : problem
}
