import { computed, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import { api, type Job, type Problem, type Together } from '@/api/client'
import { isLive, useJobs } from '@/ask/jobs'
import { sent } from '@/ask/send'
import { told } from '@/ask/told'
import { usePlan } from '@/plan/store'
import { EVERY } from '@/views/frame/address'
import { withDesigns } from './taken'

import { named, PRESETS } from './useTuner'

/** Stands for all pools where one could be chosen. */
export const ALL = EVERY

/** The pools of a plan tuned one by one and then weighed against each other. */
export function useTogether() {
  const store = usePlan()
  const jobs = useJobs()
  const route = useRoute()
  const router = useRouter()
  const numbers = computed(() =>
    String(route.query.studies ?? '')
      .split(',')
      .map(Number)
      .filter((n) => Number.isInteger(n) && n > 0),
  )
  const problem = shallowRef<Problem | null>(null)
  const asking = ref(false)
  const weighed = shallowRef<Together | null>(null)
  const budget = ref<number | null>(null)
  const kept = ref(true)

  /** Jobs of the address that this page has not heard of. */
  const older = shallowRef(new Map<number, Job>())
  const live = computed(() => numbers.value.map((n) => jobs.byId.get(n) ?? older.value.get(n)))
  const done = computed(() => live.value.filter((job) => job?.state === 'done').length)
  const goesOn = computed(() => live.value.some((job) => job && isLive(job)))
  const over = computed(() => live.value.every((job) => job && !isLive(job)))
  watch(
    numbers,
    async (ids) => {
      for (const id of ids.filter((n) => !jobs.byId.has(n))) {
        const path = { job_id: id }
        const answer = await told(api.GET('/api/studies/{job_id}', { params: { path } }))
        problem.value = answer.problem
        if (answer.data) older.value = new Map(older.value).set(id, answer.data.job)
      }
    },
    { immediate: true },
  )

  async function ask(free: string, weeks: number): Promise<void> {
    const plan = store.plan
    if (!plan) return
    asking.value = true
    const body = { plan, free: PRESETS[free] ?? null, budget: weeks, ...named() }
    const answer = await told(api.POST('/api/studies/pools', sent(body)))
    asking.value = false
    problem.value = answer.problem
    const found = answer.data?.jobs ?? []
    jobs.put(found)
    const studies = found.map((job) => job.id).join(',')
    if (found.length) void router.replace({ query: { ...route.query, pool: ALL, studies } })
  }
  function stop(): void {
    for (const job of live.value) if (job && isLive(job)) void jobs.stop(job.id)
  }

  let newest = 0
  async function weigh(): Promise<void> {
    const mine = ++newest
    const body = {
      jobs: numbers.value,
      budget: budget.value,
      kept: kept.value,
      spend: 1000,
      save: 5000,
    }
    const answer = await told(api.POST('/api/studies/together', { body }))
    if (mine !== newest) return
    problem.value = answer.problem
    if (answer.data) weighed.value = answer.data
  }
  watch(
    [numbers, over],
    ([ids, all]) => {
      if (!ids.length) weighed.value = null
      else if (all) void weigh()
    },
    { immediate: true },
  )
  watch([budget, kept], () => numbers.value.length && over.value && void weigh())

  /** What the plan had changed since and the designs now set otherwise. */
  const both = shallowRef<string[]>([])
  async function takeOver(places: readonly number[]): Promise<boolean> {
    const taken = (weighed.value?.pools ?? []).flatMap((pool, k) => {
      const design = pool.options[places[k] ?? 0]
      return design ? [{ job: pool.job, design }] : []
    })
    const found = await store.change(async (plan) => {
      const answer = await withDesigns(plan, taken)
      both.value = answer.data?.both ?? []
      return answer
    })
    problem.value = found.problem
    return found.done
  }
  return {
    numbers,
    problem,
    asking,
    goesOn,
    done,
    weighed,
    budget,
    kept,
    ask,
    stop,
    takeOver,
    both,
  }
}
