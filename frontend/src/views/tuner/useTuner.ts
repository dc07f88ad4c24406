import { computed, onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import {
  api,
  type Pool,
  type Problem,
  type Study,
  type StudyMay,
  type StudyPoint,
  type StudiesDiffer,
  type StudyRow,
} from '@/api/client'
import { isLive, useJobs } from '@/ask/jobs'
import { owner, page } from '@/ask/page'
import { sent } from '@/ask/send'
import { told } from '@/ask/told'
import { usePlan } from '@/plan/store'
import { withDesigns } from './taken'

type Free = StudyMay['free'][number]

/** What is given free at one click; null: whatever there is. */
export const PRESETS: Record<string, Free[] | null> = {
  'the schedule only': ['schedule'],
  'the schedule and timeouts': ['schedule', 'timeouts'],
  'timeouts and all rules of the schedule': [
    'schedule',
    'timeouts',
    'shares',
    'lids',
    'drain steps',
    'load rules',
  ],
  everything: null,
}
/** Whether what is given free at one click has a freedom. */
export function gives(preset: string, freedom: Free): boolean {
  return PRESETS[preset]?.includes(freedom) ?? true
}
/** Milliseconds between two looks at a study that goes on. */
const LOOK_MS = 700

/** Who asks: no newer question takes the place of these. */
export const named = () => ({ tab: '', edit: 0, owner, plan_id: page.plan })

/** Everything the Tuner does: what is asked, which study is looked at, what is taken over. */
export function useTuner() {
  const route = useRoute()
  const router = useRouter()
  const store = usePlan()
  const jobs = useJobs()

  const pool = computed<Pool | null>(
    () => store.plan?.pools.find((p) => p.id === route.query.pool) ?? store.plan?.pools[0] ?? null,
  )
  function go(query: Record<string, string | undefined>): void {
    void router.replace({ query: { ...route.query, ...query } })
  }

  // What is asked
  const free = ref<string>('the schedule and timeouts')
  const budget = ref(3000)
  const axis = ref<Study['question']['axis']>('')
  const weights = ref<Record<string, number>>({})
  const locked = ref<string[]>([])
  /** Bounds of fields, by their paths. */
  const within = ref<{ path: string; low: number; high: number }[]>([])
  /** The number that the random choices of the search begin with. */
  const seed = ref(1)
  /** Seconds after which it is ended early, if any. */
  const seconds = ref<number | null>(null)
  /** Other pools that share the schedule, and those of them that are tuned with it. */
  const sharing = computed(() =>
    (store.plan?.pools ?? [])
      .filter((p) => p.schedule === pool.value?.schedule && p.id !== pool.value.id)
      .map((p) => p.id),
  )
  const together = ref<string[]>([])
  watch(sharing, (ids) => (together.value = together.value.filter((id) => ids.includes(id))))
  const may = shallowRef<StudyMay | null>(null)
  /** Weeks of candidates that a study of so many weeks that count takes at least. */
  const least = computed(() => {
    const counted = Object.keys(weights.value).length
    return (may.value?.least_each ?? 1) * Math.max(counted, 1)
  })
  function setBudget(weeks: number): void {
    budget.value = Math.max(weeks, least.value)
  }
  watch(least, () => setBudget(budget.value))
  const problem = shallowRef<Problem | null>(null)
  /** The pool that it is about. */
  let mayOf: string | undefined
  watch(
    () => [store.plan, pool.value?.id] as const,
    async ([plan, id]) => {
      if (id !== mayOf || !plan) may.value = null
      mayOf = id
      if (!plan || !id) return
      const answer = await told(api.POST('/api/studies/may', sent({ plan, pool: id, ...named() })))
      if (store.plan === plan && pool.value?.id === id) may.value = answer.data
    },
    { immediate: true },
  )

  // The study that is looked at
  const study = shallowRef<Study | null>(null)
  const rows = shallowRef<StudyRow[]>([])
  const number = computed(() => Number(route.query.study) || null)
  const asking = ref(false)
  const goesOn = computed(() => !!study.value && isLive(study.value.job))

  async function look(id: number): Promise<void> {
    const params = { path: { job_id: id }, query: over.value ? { axis: over.value } : {} }
    const answer = await told(api.GET('/api/studies/{job_id}', { params }))
    if (number.value !== id) return
    problem.value = answer.problem
    if (answer.data) study.value = answer.data
  }
  /** What the picture is drawn over, where that is not the study's own choice. */
  const over = ref<Study['axis'] | null>(null)
  function drawOver(part: Study['axis']): void {
    over.value = part
    if (number.value) void look(number.value)
  }
  async function list(): Promise<void> {
    const mine = page.plan
    if (!mine) return
    const query = { plan_id: mine }
    const answer = await told(api.GET('/api/studies', { params: { query } }))
    if (answer.data && page.plan === mine) rows.value = answer.data.studies
  }
  watch(
    number,
    (id) => {
      if (study.value?.job.id !== id) {
        study.value = null
        over.value = null
      }
      if (id) void look(id)
    },
    { immediate: true },
  )
  watch(
    () => store.id,
    () => {
      rows.value = []
      void list()
    },
    { immediate: true },
  )
  let late = 0
  let later: ReturnType<typeof setTimeout> | undefined
  onBeforeUnmount(() => clearTimeout(later))
  watch(
    () => (number.value ? jobs.byId.get(number.value) : undefined),
    (job, before) => {
      if (!job || job === before) return
      const wait = isLive(job) ? Math.max(LOOK_MS - (Date.now() - late), 0) : 0
      clearTimeout(later)
      later = setTimeout(() => {
        if (number.value !== job.id || (isLive(job) && Date.now() - late < LOOK_MS)) return
        late = Date.now()
        void look(job.id)
      }, wait)
    },
  )
  /** Whether a study has come to its end since the list of them was read. */
  const ended = computed(() =>
    rows.value.some(({ job }) => {
      const now = jobs.byId.get(job.id)
      return !!now && !isLive(now) && now.state !== job.state
    }),
  )
  watch(ended, (one) => one && void list())

  async function ask(): Promise<void> {
    const plan = store.plan
    if (!plan || !pool.value) return
    asking.value = true
    const weeks = (may.value?.weeks ?? [])
      .filter((week) => week.name in weights.value)
      .map((week) => ({
        ...week,
        why: undefined,
        weight: weights.value[week.name] ?? 1,
      }))
    const body = {
      plan,
      pool: pool.value.id,
      weeks,
      free: PRESETS[free.value] ?? null,
      locked: locked.value,
      within: within.value,
      axis: axis.value || null,
      budget: budget.value,
      seed: seed.value,
      seconds: seconds.value,
      together: together.value,
      ...named(),
    }
    const answer = await told(api.POST('/api/studies', sent(body)))
    asking.value = false
    problem.value = answer.problem
    const job = answer.data?.job
    if (!job) return
    jobs.put([job])
    go({ study: String(job.id) })
    void list()
  }
  function stop(): void {
    if (study.value) void jobs.stop(study.value.job.id)
  }

  /** Forget a study; what it has found is gone. */
  async function remove(id: number): Promise<void> {
    const path = { job_id: id }
    const answer = await told(api.DELETE('/api/studies/{job_id}', { params: { path } }))
    problem.value = answer.problem
    if (answer.problem) return
    if (number.value === id) go({ study: undefined })
    if (other.value === id) other.value = null
    void list()
  }

  // Another study beside it
  const other = ref<number | null>(null)
  const differ = shallowRef<StudiesDiffer | null>(null)
  /** Put a study beside the one that is shown, or take it away. */
  function compare(id: number): void {
    other.value = other.value === id ? null : id
  }
  watch([number, other], async ([mine, theirs]) => {
    differ.value = null
    if (!mine || !theirs) return
    const path = { job_id: mine, other_id: theirs }
    const answer = await told(
      api.GET('/api/studies/{job_id}/against/{other_id}', { params: { path } }),
    )
    if (number.value !== mine || other.value !== theirs) return
    problem.value = answer.problem
    differ.value = answer.data
  })

  /** What the plan had changed since and the design now sets otherwise, by the fields' paths. */
  const both = shallowRef<string[]>([])
  /** Put what the study changed into the plan as one edit; whether it was. */
  async function takeOver(point: StudyPoint): Promise<boolean> {
    const job = study.value?.job.id
    if (job === undefined) return false
    const found = await store.change(async (plan) => {
      const answer = await withDesigns(plan, [{ job, design: point }])
      both.value = answer.data?.both ?? []
      return answer
    })
    problem.value = found.problem
    return found.done
  }

  return {
    store,
    pool,
    go,
    free,
    budget,
    setBudget,
    axis,
    weights,
    locked,
    within,
    seed,
    seconds,
    sharing,
    together,
    other,
    compare,
    remove,
    differ,
    may,
    problem,
    study,
    rows,
    number,
    asking,
    goesOn,
    ask,
    stop,
    drawOver,
    takeOver,
    both,
  }
}

export type Tuner = ReturnType<typeof useTuner>
