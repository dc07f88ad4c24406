import { produce } from 'immer'

import { api, type Edit, type Plan, type Problem } from '@/api/client'
import { sent } from '@/ask/send'
import { told, type Reply } from '@/ask/told'

import type { Lens } from './lens'
import { carryKeys } from './rows'
import { same } from './same'
import { cancelGesture, changed, type Change, type PlanState } from './state'

/** How the server is asked to change a plan. */
export type Send = (plan: Plan) => Promise<Reply<{ plan: object }>>
/** Whether the server changed the plan, or why not; one that is not open any more is dropped. */
export interface Outcome {
  done: boolean
  problem: Problem | null
}
const DROPPED: Outcome = { done: false, problem: null }
/** Times that the server is asked to change the plan anew because an edit came in between. */
const TRIES = 5

/** What is said where edits came in between each time. */
const IN_BETWEEN: Problem = {
  type: '/problems/edited-meanwhile',
  title: 'The plan was edited faster than the server could change it',
  status: 0,
  detail: `this was asked ${TRIES} times, each time of a plan that had changed meanwhile`,
  remedy: 'wait a moment, and ask again; your edits are all there',
  faults: [],
}

function after(plan: Plan, change: Change): Plan {
  const made = produce(plan, (copy: Plan) => {
    change(copy)
  })
  carryKeys(plan, made)
  return made
}

/** Apply an edit to a copy of the plan; while a gesture lasts it is only previewed. */
export function edit(state: PlanState, change: Change, holding = false): void {
  const { edited, preview, gesture } = state
  if (!edited.value) return
  // A change that fails leaves neither a gesture nor its preview behind.
  cancelGesture(state)
  const before = edited.value.present.plan
  const copy = after(before, change)
  if (holding) {
    gesture.held = change
    preview.value = copy
  } else if (!same(copy, before)) {
    edited.value.commit(copy)
    changed(state)
  }
}

/** Put a value where a lens leads to; while a gesture lasts it is only previewed. */
export function set<T>(state: PlanState, lens: Lens<T>, value: T, holding = false): void {
  edit(state, (plan) => lens.write(plan, value), holding)
}

/** Change the part that a lens leads to; one that is gone meanwhile stays gone. */
export function alter<T>(
  state: PlanState,
  lens: Lens<T>,
  made: (part: T) => void,
  holding = false,
): void {
  edit(state, (plan) => lens.edit(plan, made), holding)
}

/** The last change that the server was asked for: each is done after the one before it. */
let applied: Promise<unknown> = Promise.resolve()

/**
 * Have the server change the plan. Where an edit comes in between, it is done anew on the plan as
 * it is then, so that neither is lost; a hand goes on with what it holds.
 */
export function change(state: PlanState, send: Send): Promise<Outcome> {
  const mine = state.now()
  const done = applied.then(() => (state.still(mine) ? ask(state, send, mine) : DROPPED))
  applied = done
  return done
}

async function ask(state: PlanState, send: Send, mine: number): Promise<Outcome> {
  const { edited, preview, gesture } = state
  for (let tries = 0; tries < TRIES; tries += 1) {
    const before = edited.value?.present.plan
    if (!before) return DROPPED
    const answer = await told(send(before))
    if (!state.still(mine) || !edited.value) return DROPPED
    if (!answer.data) return { done: false, problem: answer.problem }
    if (edited.value.present.plan !== before) continue
    const made = answer.data.plan as Plan
    edited.value.commit(made)
    if (gesture.held) preview.value = after(made, gesture.held)
    changed(state)
    return { done: true, problem: null }
  }
  return { done: false, problem: IN_BETWEEN }
}

/** Have the server do an edit that changes more than a value; whether it did. */
export async function apply(state: PlanState, edit: Edit): Promise<boolean> {
  const mine = state.now()
  const send: Send = (plan) => api.POST('/api/plans/edit', sent({ plan, edit }))
  const found = await change(state, send)
  if (state.still(mine)) state.problem.value = found.problem
  return found.done
}
