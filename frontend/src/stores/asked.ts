import { onBeforeUnmount, ref, shallowRef, type Ref, type ShallowRef } from 'vue'

import { problemOf, type Problem } from '@/api/client'

import { newest } from './newest'

interface Found<A> {
  data?: A
  error?: unknown
  response: Response
}

export interface Asked<W, A> {
  answer: ShallowRef<A | null>
  problem: ShallowRef<Problem | null>
  /** How many answers have come: for those who wait for the next. */
  answered: Ref<number>
  busy: Ref<boolean>
  ask: (wish: W) => void
  forget: () => void
}

/** A question to the server that follows the page: the newest is answered, older ones dropped. */
export function asked<W, A>(
  send: (wish: W, call: { tab: string; edit: number }) => Promise<Found<A>>,
): Asked<W, A> {
  const answer = shallowRef<A | null>(null)
  const problem = shallowRef<Problem | null>(null)
  const answered = ref(0)
  const tab = crypto.randomUUID()
  const asker = newest<W>(async (wish, edit) => {
    const found = await send(wish, { tab, edit }).catch(() => null)
    if (found?.data !== undefined && found.response.status !== 204) {
      answer.value = found.data
      problem.value = null
      answered.value += 1
      return 'done'
    }
    if (found?.response.status === 204) return 'done'
    problem.value = problemOf(found?.error)
    return problem.value.status === 0 || problem.value.status >= 500 ? 'gone' : 'done'
  })
  function forget(): void {
    asker.stop()
    answer.value = null
    problem.value = null
  }
  return { answer, problem, answered, busy: asker.busy, ask: asker.ask, forget }
}

/** The same for as long as a component is there. */
export function useAsked<W, A>(
  send: (wish: W, call: { tab: string; edit: number }) => Promise<Found<A>>,
): Asked<W, A> {
  const found = asked(send)
  onBeforeUnmount(found.forget)
  return found
}
