import { defineStore } from 'pinia'
import { computed } from 'vue'

import type { Edit } from '@/api/client'

import { keepDraft } from './drafts'
import { alter, apply, change, edit, set, type Send } from './editing'
import type { Lens } from './lens'
import { BROKEN, load, look } from './opening'
import { resolve, save } from './saving'
import { cancelGesture, changed, planState, type Change, type PlanState } from './state'
import { hearSaved } from './tabs'

/** Undo or redo; what a hand holds ends with it. */
function step(state: PlanState, way: 'undo' | 'redo'): void {
  cancelGesture(state)
  state.edited.value?.[way]()
  changed(state)
}

/** Go back to the revision that the edit began with; that can be undone. */
function discard(state: PlanState): void {
  if (!state.edited.value) return
  cancelGesture(state)
  state.restored.value = false
  state.edited.value.commit(state.edited.value.present.base.plan)
  changed(state)
}

/** Take away what is said of kept edits, and an edit that cannot be read. */
function understood({ id, note }: PlanState): void {
  if (note.value === BROKEN) keepDraft(id.value, null)
  note.value = ''
}

/**
 * The plan on the page: its saved revision, edits with undo, and saving. Whatever the server answers
 * belongs to the opening of a plan that it was asked in, and is dropped where another is open.
 */
export const usePlan = defineStore('plan', () => {
  const state = planState()
  hearSaved((heard) => {
    if (heard.plan === state.id.value) void look(state)
  })
  const { id, saved, plan, settled, revisions, newer, problem, conflict } = state
  const { restored, note, saving, dirty } = state
  return {
    ...{ id, saved, plan, settled, revisions, newer, problem, conflict },
    ...{ restored, note, saving, dirty },
    canUndo: computed(() => state.edited.value?.canUndo ?? false),
    canRedo: computed(() => state.edited.value?.canRedo ?? false),
    load: (planId: number) => load(state, planId),
    look: () => look(state),
    edit: (made: Change, holding = false) => edit(state, made, holding),
    set: <T>(lens: Lens<T>, value: T, holding = false) => set(state, lens, value, holding),
    alter: <T>(lens: Lens<T>, made: (part: T) => void, holding = false) =>
      alter(state, lens, made, holding),
    remove: (lens: Lens<unknown>) => edit(state, (plan) => lens.remove(plan)),
    change: (send: Send) => change(state, send),
    apply: (wanted: Edit) => apply(state, wanted),
    cancelGesture: () => cancelGesture(state),
    /** Whether the plan that is open now is still open when that is asked. */
    here: () => {
      const mine = state.now()
      return () => state.still(mine)
    },
    undo: () => step(state, 'undo'),
    redo: () => step(state, 'redo'),
    save: (words: string) => save(state, words),
    resolve: (prefer: 'yours' | 'theirs' | null) => resolve(state, prefer),
    /** Show what differs from a newer revision: a save that names an older one is refused with it. */
    compare: async () => void (state.newer.value && (await save(state, ''))),
    discard: () => discard(state),
    understood: () => understood(state),
  }
})
