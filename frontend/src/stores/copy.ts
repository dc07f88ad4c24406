import { current, isDraft, type Draft } from 'immer'

/** A copy of a part of a plan, to be changed and put beside it: of one that is being edited too. */
export function copyOf<T>(part: T): T {
  return structuredClone(isDraft(part) ? (current(part as Draft<T>) as T) : part)
}
