import { computed, ref, shallowRef, triggerRef } from 'vue'

import type { Plan, Problem, RevisionSummary, StaleProblem } from '@/api/client'

import { keepDraft } from './drafts'
import type { Base, Edited } from './edited'

/** What a hand does to the plan while it holds a handle. */
export type Change = (plan: Plan) => void

/** The plan on the page, as all that works on it shares it. */
export function planState() {
  const id = ref(0)
  const edited = shallowRef<Edited | null>(null)
  const preview = shallowRef<Plan | null>(null)
  const revisions = shallowRef<RevisionSummary[]>([])
  /** The revision that the plan is an edit of. */
  const saved = computed<Base | null>(() => edited.value?.present.base ?? null)
  /** Counts the openings of plans: an answer to an earlier one lands nowhere. */
  let opening = 0

  return {
    id,
    edited,
    preview,
    revisions,
    saved,
    problem: shallowRef<Problem | null>(null),
    conflict: shallowRef<StaleProblem | null>(null),
    restored: ref(false),
    saving: ref(false),
    /** What there is to say of edits that are kept in the browser. */
    note: ref(''),
    gesture: { held: null as Change | null },
    /** What is drawn and simulated: a gesture in progress, else the edited plan. */
    plan: computed<Plan | null>(() => preview.value ?? edited.value?.present.plan ?? null),
    /** The same without a gesture. */
    settled: computed<Plan | null>(() => edited.value?.present.plan ?? null),
    dirty: computed(() => edited.value?.dirty ?? false),
    /** A revision that somebody else has saved since this edit began. */
    newer: computed(() => {
      const latest = revisions.value[0]
      return latest && saved.value && latest.number > saved.value.number ? latest : null
    }),
    open: () => (opening += 1),
    now: () => opening,
    still: (then: number) => then === opening,
  }
}

export type PlanState = ReturnType<typeof planState>

/** The edited plan is another: it is drawn, and kept in the browser. */
export function changed({ id, edited }: PlanState): void {
  triggerRef(edited)
  if (!edited.value) return
  const { plan, base } = edited.value.present
  keepDraft(id.value, edited.value.dirty ? { base: base.number, plan } : null)
}

/** A gesture ends, and with it what it showed. */
export function cancelGesture({ gesture, preview }: PlanState): void {
  gesture.held = null
  preview.value = null
}
