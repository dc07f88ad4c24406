import { api, type Plan, type Revision } from '@/api/client'
import { page } from '@/ask/page'
import { passing, told } from '@/ask/told'

import { keepsDrafts, readDraft, type Draft } from './drafts'
import { Edited, type Base, type State } from './edited'
import { same } from './same'
import { cancelGesture, type PlanState } from './state'

const NOTHING_KEPT =
  'This browser keeps nothing: an edit that is not saved is lost when the page is closed.'
export const BROKEN =
  'An edit that was kept here cannot be read any more; this is the plan as it was saved.'

export const baseOf = (revision: Revision): Base => ({
  number: revision.number,
  plan: revision.plan,
})

/** Open a plan: its latest revision, and the edit of it that was kept here. */
export async function load(state: PlanState, planId: number): Promise<void> {
  const mine = state.open()
  clear(state, planId)
  const path = { plan_id: planId }
  const answer = await told(api.GET('/api/plans/{plan_id}', { params: { path } }))
  if (!state.still(mine)) return
  if (!answer.data) {
    state.problem.value = answer.problem
    return
  }
  const latest = baseOf(answer.data as unknown as Revision)
  const draft = await restorable(state, planId, latest)
  if (!state.still(mine)) return
  const opened = new Edited(latest)
  if (draft) opened.commit(draft.plan, draft.base)
  state.edited.value = opened
  state.restored.value = draft !== null
  await loadRevisions(state)
}

function clear(state: PlanState, planId: number): void {
  state.id.value = planId
  page.plan = planId
  state.edited.value = null
  cancelGesture(state)
  state.revisions.value = []
  state.problem.value = null
  state.conflict.value = null
  state.restored.value = false
  state.saving.value = false
  state.note.value = keepsDrafts() ? '' : NOTHING_KEPT
}

/** The edit that was kept, as an edit of the revision that it began with, if it can be read. */
async function restorable(
  { note }: PlanState,
  planId: number,
  latest: Base,
): Promise<State | null> {
  const draft = await readDraft(planId)
  if (!draft) return null
  if (draft === 'broken' || (await isUnreadable(draft.plan))) {
    note.value = BROKEN
    return null
  }
  if (same(draft.plan, latest.plan)) return null
  const base = await began(planId, draft, latest)
  return same(draft.plan, base.plan) ? null : { plan: draft.plan, base }
}

async function began(planId: number, draft: Draft, latest: Base): Promise<Base> {
  if (draft.base === latest.number) return latest
  const path = { plan_id: planId, number: draft.base }
  const answer = await told(
    api.GET('/api/plans/{plan_id}/revisions/{number}', { params: { path } }),
  )
  if (answer.data) return baseOf(answer.data as unknown as Revision)
  // What it began with is not known: all of it counts as edited.
  return { number: draft.base, plan: latest.plan }
}

/** Whether the server says that a plan cannot be read; one that is gone says nothing. */
async function isUnreadable(kept: Plan): Promise<boolean> {
  const body = { plan: kept, words: '', author: 'planner' }
  const answer = await told(api.POST('/api/plans/complete', { body }))
  return answer.problem !== null && !passing(answer.problem)
}

export async function loadRevisions(state: PlanState): Promise<void> {
  const mine = state.now()
  const path = { plan_id: state.id.value }
  const answer = await told(api.GET('/api/plans/{plan_id}/revisions', { params: { path } }))
  if (!state.still(mine)) return
  if (answer.data) state.revisions.value = answer.data.revisions
  // A server that is gone is told by the picture, which goes on asking until it is back.
  else if (!passing(answer.problem)) state.problem.value = answer.problem
}

/** Look whether the plan was saved elsewhere: where nothing is edited here, that is shown. */
export async function look(state: PlanState): Promise<void> {
  const mine = state.now()
  const idle = () => state.still(mine) && !state.dirty.value && !state.preview.value
  if (!state.edited.value) return
  await loadRevisions(state)
  if (!idle() || !state.newer.value) return
  const path = { plan_id: state.id.value }
  const answer = await told(api.GET('/api/plans/{plan_id}', { params: { path } }))
  if (idle() && answer.data)
    state.edited.value = new Edited(baseOf(answer.data as unknown as Revision))
}
