import type { Plan } from '@/api/client'

import { carryKeys } from './rows'
import { same } from './same'

/** A saved revision: its number, and the plan that it holds. */
export interface Base {
  number: number
  plan: Plan
}

/** A plan as somebody has edited it, and the revision that the edit began with. */
export interface State {
  plan: Plan
  base: Base
}

/** States that can be undone. */
const MOST = 200

/**
 * A plan with its edits, undone and done again. Each state knows the revision that it is an edit
 * of, so that undoing never puts one revision's number over another's content.
 */
export class Edited {
  private past: State[] = []
  private future: State[] = []
  present: State

  constructor(base: Base) {
    this.present = { plan: base.plan, base }
  }

  get dirty(): boolean {
    return !same(this.present.plan, this.present.base.plan)
  }
  get canUndo(): boolean {
    return this.past.length > 0
  }
  get canRedo(): boolean {
    return this.future.length > 0
  }

  /** Make a plan the present one: an edit of the same revision, or of another. */
  commit(plan: Plan, base = this.present.base): void {
    carryKeys(this.present.plan, plan)
    this.past.push(this.present)
    if (this.past.length > MOST) this.past.shift()
    this.present = { plan, base }
    this.future = []
  }
  undo(): void {
    const before = this.past.pop()
    if (before === undefined) return
    this.future.push(this.present)
    this.present = before
  }
  redo(): void {
    const after = this.future.pop()
    if (after === undefined) return
    this.past.push(this.present)
    this.present = after
  }

  /** A state was saved: edits of its revision, made before or since, are edits of the new one. */
  savedAs(sent: State, revision: Base): void {
    const of = (state: State) => (state.base === sent.base ? { ...state, base: revision } : state)
    this.past = this.past.map(of)
    this.future = this.future.map(of)
    this.present = of(this.present)
  }
}
