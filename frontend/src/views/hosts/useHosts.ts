import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import {
  api,
  type Edit,
  type Plan,
  type Pool,
  type RangeAnswer,
  type SizeModel,
  type SizingAnswer,
} from '@/api/client'
import { keyOf } from '@/ask/content'
import { useQuestion } from '@/ask/question'
import { about, sent } from '@/ask/send'
import type { Reply } from '@/ask/told'
import { useGesture } from '@/plan/gesture'
import { PLAN } from '@/plan/lens'
import { usePlan } from '@/plan/store'

interface SizingWish {
  plan: Plan
  pool: string
  group: string | null
  percentile: number
  spare: number
  lose_zone: boolean
  active_share: number | null
}

/** Everything the Hosts view does: which pool and size, what is asked of the picture, its edits. */
export function useHosts() {
  const route = useRoute()
  const router = useRouter()
  const store = usePlan()

  /** Look at something else; a limit that was tried belongs to the size it was tried on. */
  async function go(query: Record<string, string | undefined>): Promise<void> {
    const tried = 'size' in query || 'pool' in query ? { limit: undefined } : {}
    await router.replace({ query: { ...route.query, ...tried, ...query } })
  }
  const text = (key: string) => {
    const value = route.query[key]
    return typeof value === 'string' && value !== '' ? value : null
  }
  const number = (key: string) => {
    const value = Number(text(key) ?? NaN)
    return Number.isFinite(value) ? value : null
  }

  const pool = computed<Pool | null>(
    () => store.plan?.pools.find((p) => p.id === text('pool')) ?? store.plan?.pools[0] ?? null,
  )
  const groups = computed(() => [
    ...new Set(store.plan?.access.filter((e) => e.pool === pool.value?.id).map((e) => e.group)),
  ])
  const group = computed(() => {
    const named = text('group')
    return named && groups.value.includes(named) ? named : null
  })
  // Bounds are the server's: it says what is wrong with an address that somebody wrote.
  const percentile = computed(() => number('of') ?? 0.95)
  const spare = computed(() => number('spare') ?? 0)
  const loseZone = computed(() =>
    text('zone') === null ? (store.plan?.promise.zone_loss ?? false) : text('zone') === 'lost',
  )
  const active = computed(() => number('active'))

  const sizing = useQuestion<SizingWish, SizingAnswer>(
    (wish, call) => api.POST('/api/hosts/sizing', about(wish, call)),
    {
      key: ({ plan, pool, group, percentile, spare, lose_zone, active_share }) =>
        keyOf(plan, pool, group, percentile, spare, lose_zone, active_share),
      about: ({ pool, group }) => `${pool} ${group}`,
    },
  )
  watch(
    [() => store.plan, () => pool.value?.id, group, percentile, spare, loseZone, active],
    () => {
      if (!store.plan || !pool.value) return sizing.forget()
      sizing.ask({
        plan: store.plan,
        pool: pool.value.id,
        group: group.value,
        percentile: percentile.value,
        spare: spare.value,
        lose_zone: loseZone.value,
        active_share: active.value,
      })
    },
    { immediate: true },
  )
  const { move, cancel } = useGesture(() => sizing.busy.value)
  const answer = sizing.answer
  /** The size that is looked at: one named in the address, or the pool's own. */
  const size = computed<SizeModel | null>(() => {
    const sizes = answer.value?.sizes ?? []
    return (
      sizes.find((each) => each.id === text('size')) ??
      sizes.find((each) => each.id === pool.value?.size) ??
      null
    )
  })
  /** A limit tried on another size than the pool's own: in the address once the hand lets go. */
  const held = ref<number | null>(null)
  const limit = computed(() => {
    if (!size.value || !pool.value) return 1
    if (size.value.id === pool.value.size) return pool.value.session_limit
    const tried = held.value ?? number('limit') ?? size.value.limit
    return Math.max(1, Math.min(Math.round(tried), size.value.hosts.length))
  })
  const letGo = () => void (held.value = null)
  function setLimit(sessions: number, done: boolean): void {
    if (!size.value || !pool.value) return
    if (size.value.id !== pool.value.size) {
      held.value = sessions
      if (done) void go({ limit: String(sessions) }).then(letGo)
      return
    }
    const at = PLAN.at('pools').item(pool.value.id).at('session_limit')
    move(() => store.set(at, sessions, !done), done)
  }
  const needed = computed(
    () => size.value?.hosts[Math.min(limit.value, size.value.hosts.length) - 1] ?? 0,
  )

  /** Size, limit and hosts that are looked at, put into the pool. */
  const taking = computed<Edit | null>(() =>
    size.value && pool.value
      ? {
          verb: 'take-size',
          pool: pool.value.id,
          size: size.value.id,
          session_limit: limit.value,
          hosts: needed.value,
        }
      : null,
  )
  function take(): void {
    if (taking.value) void store.apply(taking.value)
  }

  interface Check {
    plan: Plan
    pool: string
    edit: Edit
    key: string
  }
  /** The plan with them is simulated without being taken. */
  const check = useQuestion<Check, RangeAnswer>(
    async ({ plan, pool, edit }, call) => {
      const body = { plan, edit }
      const found = await api.POST('/api/plans/edit', sent(body, call.signal))
      if (!found.data) return found as Reply<RangeAnswer>
      const taken = found.data.plan as unknown as Plan
      return api.POST(
        '/api/simulations/range',
        about({ plan: taken, pool, first: null, seeds: 4, days: 7, saved: false }, call),
      )
    },
    {
      key: (wish) => keyOf(wish.plan, wish.key),
      about: (wish) => wish.pool,
      urgent: () => true,
    },
  )
  const checkKey = computed(
    () => `${pool.value?.id} ${size.value?.id} ${limit.value} ${needed.value}`,
  )
  /** What it found is about the plan as it was then: after an edit it is not shown. */
  const checked = computed(() => {
    const wish = check.wish.value
    const still = wish?.key === checkKey.value && wish.plan === store.plan
    return still ? check.answer.value : null
  })
  function simulate(): void {
    const edit = taking.value
    if (store.plan && edit && pool.value)
      check.ask({ plan: store.plan, pool: pool.value.id, edit, key: checkKey.value })
  }

  return {
    store,
    go,
    pool,
    groups,
    group,
    percentile,
    spare,
    loseZone,
    active,
    sizing,
    answer,
    size,
    limit,
    setLimit,
    cancel: () => {
      letGo()
      cancel()
    },
    needed,
    take,
    check,
    checked,
    simulate,
  }
}

export type Hosts = ReturnType<typeof useHosts>
