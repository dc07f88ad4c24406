import { api, problemOf, type Plan, type Revision, type StaleProblem } from '@/api/client'
import { told } from '@/ask/told'

import { baseOf, loadRevisions } from './opening'
import { cancelGesture, changed, type PlanState } from './state'
import { tellSaved } from './tabs'

/** Save the plan as the next revision; whether it was. */
export async function save(state: PlanState, words: string): Promise<boolean> {
  if (!state.edited.value || state.saving.value) return false
  const mine = state.now()
  const plan = state.id.value
  const given = state.edited.value.present
  state.saving.value = true
  state.problem.value = null
  const answer = await told(
    api.PUT('/api/plans/{plan_id}', {
      params: { path: { plan_id: plan } },
      headers: { 'If-Match': `"${given.base.number}"` },
      body: { plan: given.plan, words, author: 'planner' },
    }),
  )
  if (answer.data) tellSaved({ plan, number: answer.data.number })
  // Whatever came of it, it is about a plan that is not open any more.
  if (!state.still(mine)) return answer.data !== null
  state.saving.value = false
  if (answer.data) {
    state.edited.value.savedAs(given, baseOf(answer.data as unknown as Revision))
    state.conflict.value = null
    state.restored.value = false
    changed(state)
    await loadRevisions(state)
    return true
  }
  if (answer.problem.status === 412) state.conflict.value = answer.problem as StaleProblem
  else state.problem.value = answer.problem
  return false
}

/** Go on from the other save: with both put together as an edit of it, or with theirs alone. */
export async function resolve(state: PlanState, prefer: 'yours' | 'theirs' | null): Promise<void> {
  const { conflict, edited } = state
  if (!conflict.value || !edited.value) return
  const mine = state.now()
  const path = { plan_id: state.id.value }
  const given = edited.value.present
  const base = given.base.number
  const body = { plan: given.plan, base, prefer: prefer ?? 'theirs' }
  const merged = prefer
    ? await told(api.POST('/api/plans/{plan_id}/merge', { params: { path }, body }))
    : null
  const theirs = await told(api.GET('/api/plans/{plan_id}', { params: { path } }))
  if (!state.still(mine)) return
  const both = prefer ? merged?.data : theirs.data
  // Where the other save, or the edit here, moved on meanwhile, the choice is made anew.
  const moved = merged?.data && merged.data.latest !== theirs.data?.number
  if (!both || !theirs.data || moved || edited.value.present !== given) {
    state.problem.value = merged?.problem ?? theirs.problem ?? problemOf(null)
    return
  }
  cancelGesture(state)
  edited.value.commit(both.plan as unknown as Plan, baseOf(theirs.data as unknown as Revision))
  conflict.value = null
  state.problem.value = null
  state.restored.value = false
  changed(state)
  await loadRevisions(state)
}
