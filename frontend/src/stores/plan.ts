import { produce } from 'immer'
import { defineStore } from 'pinia'
import { computed, ref, shallowRef, triggerRef } from 'vue'

import {
  api,
  problemOf,
  type Edit,
  type Plan,
  type Problem,
  type Revision,
  type RevisionSummary,
  type StaleProblem,
} from '@/api/client'

import { page } from '@/ask/page'
import { sent } from '@/ask/send'
import { passing, told } from '@/ask/told'

import { keepDraft, keepsDrafts, readDraft, same } from './draft'
import { History } from './history'

const NOTHING_KEPT =
  'This browser keeps nothing: an edit that is not saved is lost when the page is closed.'

const BROKEN =
  'An edit that was kept here cannot be read any more; this is the plan as it was saved.'

/** The plan on the page: its saved revision, edits with undo, and saving. */
export const usePlan = defineStore('plan', () => {
  const id = ref(0)
  const saved = shallowRef<Revision | null>(null)
  const history = shallowRef<History<Plan> | null>(null)
  const preview = shallowRef<Plan | null>(null)
  const revisions = shallowRef<RevisionSummary[]>([])
  const problem = shallowRef<Problem | null>(null)
  const conflict = shallowRef<StaleProblem | null>(null)
  const restored = ref(false)
  /** What there is to say of edits that are kept in the browser. */
  const note = ref('')
  const saving = ref(false)

  /** What is drawn and simulated: a gesture in progress, else the edited plan. */
  const plan = computed<Plan | null>(() => preview.value ?? history.value?.present ?? null)
  /** The same without a gesture. */
  const settled = computed<Plan | null>(() => history.value?.present ?? null)
  const dirty = computed(
    () => !!history.value && !!saved.value && !same(history.value.present, saved.value.plan),
  )
  const canUndo = computed(() => history.value?.canUndo ?? false)
  const canRedo = computed(() => history.value?.canRedo ?? false)

  async function load(planId: number): Promise<void> {
    id.value = planId
    page.plan = planId
    saved.value = null
    history.value = null
    preview.value = null
    problem.value = null
    conflict.value = null
    const path = { plan_id: planId }
    const answer = await told(api.GET('/api/plans/{plan_id}', { params: { path } }))
    if (id.value !== planId) return
    if (!answer.data) {
      problem.value = answer.problem
      return
    }
    saved.value = answer.data as unknown as Revision
    history.value = new History(saved.value.plan)
    note.value = keepsDrafts() ? '' : NOTHING_KEPT
    await restore(planId)
    if (id.value === planId) await loadRevisions()
  }

  /** Go on with the edit that was kept, if it is of a plan that can be read. */
  async function restore(planId: number): Promise<void> {
    restored.value = false
    const draft = readDraft(planId)
    if (!draft || !saved.value) return
    if (draft !== 'broken' && same(draft.plan, saved.value.plan)) return
    const problem = draft === 'broken' ? null : await unreadable(draft.plan)
    if (id.value !== planId || !saved.value || !history.value) return
    if (draft === 'broken' || problem) {
      note.value = BROKEN
      return
    }
    // An edit of an older revision keeps that as its base: saving it then shows what differs.
    saved.value = { ...saved.value, number: draft.base }
    history.value.commit(draft.plan)
    triggerRef(history)
    restored.value = true
  }

  /** Whether the server says that a plan cannot be read; one that is gone says nothing. */
  async function unreadable(plan: Plan): Promise<boolean> {
    const body = { plan, words: '', author: 'planner' }
    const { problem } = await told(api.POST('/api/plans/complete', { body }))
    return problem !== null && !passing(problem)
  }

  async function loadRevisions(): Promise<void> {
    const path = { plan_id: id.value }
    const answer = await told(api.GET('/api/plans/{plan_id}/revisions', { params: { path } }))
    if (answer.data) revisions.value = answer.data.revisions
    // A server that is gone is told by the picture, which goes on asking until it is back.
    else if (!passing(answer.problem)) problem.value = answer.problem
  }

  function changed(): void {
    triggerRef(history)
    if (!saved.value || !history.value) return
    keepDraft(
      id.value,
      dirty.value ? { base: saved.value.number, plan: history.value.present } : null,
    )
  }

  /** Apply an edit to a copy of the plan; while a gesture lasts it is only previewed. */
  function edit(change: (plan: Plan) => void, gesture = false): void {
    if (!history.value) return
    const copy = produce(history.value.present, (plan: Plan) => {
      change(plan)
    })
    if (gesture) {
      preview.value = copy
      return
    }
    preview.value = null
    if (same(copy, history.value.present)) return
    history.value.commit(copy)
    changed()
  }

  let applied: Promise<unknown> = Promise.resolve()
  /** Have the server do an edit that changes more than a value; each after the one before it. */
  function apply(edit: Edit): Promise<boolean> {
    const done = applied.then(() => doEdit(edit))
    applied = done
    return done
  }
  async function doEdit(edit: Edit): Promise<boolean> {
    const before = history.value?.present
    if (!before) return false
    const answer = await told(api.POST('/api/plans/edit', sent({ plan: before, edit })))
    // Another edit has come in between, and stands.
    if (history.value?.present !== before) return false
    problem.value = answer.problem
    if (!answer.data) return false
    preview.value = null
    history.value.commit(answer.data.plan as unknown as Plan)
    changed()
    return true
  }

  function cancelGesture(): void {
    preview.value = null
  }

  function undo(): void {
    history.value?.undo()
    changed()
  }

  function redo(): void {
    history.value?.redo()
    changed()
  }

  async function save(words: string): Promise<boolean> {
    if (!history.value || !saved.value || saving.value) return false
    saving.value = true
    problem.value = null
    const answer = await told(
      api.PUT('/api/plans/{plan_id}', {
        params: { path: { plan_id: id.value } },
        headers: { 'If-Match': `"${saved.value.number}"` },
        body: { plan: history.value.present, words, author: 'planner' },
      }),
    )
    saving.value = false
    if (answer.data) {
      saved.value = answer.data as unknown as Revision
      conflict.value = null
      restored.value = false
      changed()
      await loadRevisions()
      return true
    }
    if (answer.problem.status === 412) conflict.value = answer.problem as StaleProblem
    else problem.value = answer.problem
    return false
  }

  /** Go on from the other save: with both put together as an edit of it, or with theirs alone. */
  async function resolve(prefer: 'yours' | 'theirs' | null): Promise<void> {
    const stale = conflict.value
    if (!stale || !saved.value || !history.value) return
    const path = { plan_id: id.value }
    const mine = history.value.present
    const merged = prefer
      ? await told(
          api.POST('/api/plans/{plan_id}/merge', {
            params: { path },
            body: { plan: mine, base: stale.base, prefer },
          }),
        )
      : null
    const theirs = await told(api.GET('/api/plans/{plan_id}', { params: { path } }))
    const both = prefer ? merged?.data : theirs.data
    // Where the other save moved on between the two answers, the choice is made anew.
    const moved = merged?.data && merged.data.latest !== theirs.data?.number
    if (!both || !theirs.data || moved) {
      problem.value = merged?.problem ?? theirs.problem ?? problemOf(null)
      return
    }
    saved.value = theirs.data as unknown as Revision
    history.value.commit(both.plan as unknown as Plan)
    conflict.value = null
    problem.value = null
    changed()
  }

  /** Take away what is said of kept edits, and an edit that cannot be read. */
  function understood(): void {
    if (note.value === BROKEN) keepDraft(id.value, null)
    note.value = ''
  }

  function discard(): void {
    if (!saved.value || !history.value) return
    keepDraft(id.value, null)
    void load(id.value)
  }

  return {
    id,
    saved,
    plan,
    settled,
    revisions,
    problem,
    conflict,
    restored,
    note,
    saving,
    dirty,
    canUndo,
    canRedo,
    load,
    edit,
    apply,
    cancelGesture,
    undo,
    redo,
    save,
    resolve,
    discard,
    understood,
  }
})
