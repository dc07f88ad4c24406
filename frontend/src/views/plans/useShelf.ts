import { onBeforeUnmount, onMounted, shallowRef } from 'vue'
import { useRouter } from 'vue-router'

import { api, type PlanSummary, type Problem, type RemovedPlan } from '@/api/client'
import { told, type Reply } from '@/ask/told'

const AUTHOR = 'planner'
/** Characters that a plan's name may have. */
export const LONGEST_NAME = 120

interface Listed {
  plans: PlanSummary[]
  removed: RemovedPlan[]
}

/** The list of stored plans as it was read last. */
function useList() {
  const plans = shallowRef<PlanSummary[] | null>(null)
  const removed = shallowRef<RemovedPlan[]>([])
  const problem = shallowRef<Problem | null>(null)

  /** Take the list that a call answers; whether it did. */
  async function list(call: Promise<Reply<Listed>>): Promise<boolean> {
    const { data, problem: wrong } = await told(call)
    problem.value = wrong
    if (!data) return false
    plans.value = data.plans
    removed.value = data.removed
    return true
  }
  /** What a call answers; the list is read anew after it. */
  async function then<A>(call: Promise<Reply<A>>): Promise<A | null> {
    const answer = await told(call)
    if (answer.problem) problem.value = answer.problem
    else await load()
    return answer.data
  }
  const load = () => list(api.GET('/api/plans'))
  onMounted(load)
  return { plans, removed, problem, list, then, load }
}
type List = ReturnType<typeof useList>

/** New plans, which are opened as soon as they are stored. */
function useNew({ problem }: List) {
  const router = useRouter()
  /** Whoever has left is not led to a plan that comes late. */
  let here = true
  onBeforeUnmount(() => (here = false))

  async function create(plan: Record<string, unknown>, words: string): Promise<void> {
    const body = { plan: plan as never, words, author: AUTHOR }
    const answer = await told(api.POST('/api/plans', { body }))
    problem.value = answer.problem
    if (answer.data && here) await router.push({ name: 'board', params: { id: answer.data.id } })
  }
  async function take(file: File): Promise<void> {
    let values: Record<string, unknown>
    try {
      values = JSON.parse(await file.text()) as Record<string, unknown>
    } catch (error) {
      problem.value = notAPlan(file, error)
      return
    }
    await create(values, `from ${file.name}`.slice(0, 200))
  }
  return { create, take }
}
const notAPlan = (file: File, error: unknown): Problem => ({
  type: '/problems/plan-cannot-be',
  title: 'This file is not a plan',
  status: 422,
  detail: `${file.name}: ${error instanceof Error ? error.message : 'not JSON'}`,
  remedy: 'choose a plan file in JSON',
  faults: [],
})

/** A name like that of a plan which none of others has. */
export function freeName(name: string, others: readonly string[]): string {
  const stem = name.slice(0, LONGEST_NAME - 10)
  let n = 2
  while (others.includes(`${stem} (${n})`)) n += 1
  return `${stem} (${n})`
}

const path = (plan_id: number) => ({ params: { path: { plan_id } } })

/** The stored plans: the list of them, and what is done to them there. */
export function useShelf() {
  const list = useList()
  /** The plan that was removed last on this page. */
  const gone = shallowRef<PlanSummary | null>(null)

  const rename = async (plan: PlanSummary, name: string) => {
    const body = { name, author: AUTHOR }
    const call = api.PUT('/api/plans/{plan_id}/name', { ...path(plan.id), body })
    return (await list.then(call)) !== null
  }
  /** Copy a revision of a plan, the latest unless told; the number of the new plan. */
  const copy = async (plan: PlanSummary, number: number | null = null) => {
    const name = freeName(plan.name, list.plans.value?.map((each) => each.name) ?? [])
    const body = { name, number, author: AUTHOR }
    const call = api.POST('/api/plans/{plan_id}/copy', { ...path(plan.id), body })
    return (await list.then(call))?.id ?? null
  }
  const remove = async (plan: PlanSummary) => {
    if (await list.list(api.POST('/api/plans/{plan_id}/remove', path(plan.id)))) gone.value = plan
  }
  const restore = async (id: number) => {
    const done = await list.list(api.POST('/api/plans/{plan_id}/restore', path(id)))
    if (done && gone.value?.id === id) gone.value = null
  }
  return { ...list, ...useNew(list), gone, rename, copy, remove, restore }
}
