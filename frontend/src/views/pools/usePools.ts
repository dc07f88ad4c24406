import { computed, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { Plan, Pool, PoolRow, PoolsAnswer } from '@/api/client'
import { keyOf } from '@/ask/content'
import { inParts } from '@/ask/parts'
import { useQuestion } from '@/ask/question'
import { named, withPlan } from '@/ask/send'
import { copyOf } from '@/stores/copy'
import { usePlan } from '@/stores/plan'
import { freeId } from '@/ui/ids'

/** Everything the Pools view does: the table of all pools, which one is looked at, its edits. */
export function usePools() {
  const route = useRoute()
  const router = useRouter()
  const store = usePlan()

  function go(query: Record<string, string | undefined>): void {
    void router.replace({ query: { ...route.query, ...query } })
  }
  const pool = computed<Pool | null>(
    () => store.plan?.pools.find((p) => p.id === route.query.pool) ?? store.plan?.pools[0] ?? null,
  )
  const against = computed<Pool | null>(
    () =>
      store.plan?.pools.find((p) => p.id === route.query.against && p.id !== pool.value?.id) ??
      null,
  )
  const index = computed(() => store.plan?.pools.findIndex((p) => p.id === pool.value?.id) ?? -1)

  /** Rows until the first whole answer is there; a newer one takes the place of an older. */
  const early = shallowRef<PoolRow[]>([])
  const table = useQuestion<Plan, PoolsAnswer>(
    (plan, call) => {
      const body = withPlan({ plan, ...named(call) })
      return inParts<PoolsAnswer>('/api/pools/parts', body, call, (part) => {
        const rows = (part as { rows?: PoolRow[] }).rows ?? []
        const fresh = new Set(rows.map((row) => row.id))
        early.value = [...early.value.filter((row) => !fresh.has(row.id)), ...rows]
      })
    },
    { key: (plan) => keyOf(plan), urgent: () => true },
  )
  const rows = computed<PoolRow[]>(
    () =>
      table.answer.value?.pools ??
      early.value.filter((row) => store.plan?.pools.some((each) => each.id === row.id)),
  )
  watch(
    () => store.plan,
    (plan) => (plan?.pools.length ? table.ask(plan) : table.forget()),
    { immediate: true },
  )

  function editPool(change: (pool: Pool) => void): void {
    const id = pool.value?.id
    store.edit((plan) => {
      const found = plan.pools.find((p) => p.id === id)
      if (found) change(found as Pool)
    })
  }

  /** A copy beside the pool, with a schedule of its own, compared with it at once. */
  function copy(): void {
    const from = pool.value
    if (!from) return
    const id = freeId(`${from.id}-copy`, store.plan?.pools.map((p) => p.id) ?? [])
    store.edit((plan) => {
      const schedule = plan.schedules.find((s) => s.id === from.schedule)
      const own = freeId(
        id,
        plan.schedules.map((s) => s.id),
      )
      if (schedule) plan.schedules.push({ ...copyOf(schedule), id: own })
      // A person cannot have their own host twice: the list stays with the pool it was made for.
      plan.pools.push({ ...copyOf(from), id, schedule: own, assigned: [] })
    })
    go({ pool: id, against: from.id })
  }
  function remove(): void {
    const gone = pool.value
    if (!gone) return
    store.edit((plan) => {
      plan.pools = plan.pools.filter((p) => p.id !== gone.id)
      plan.access = plan.access.filter((e) => e.pool !== gone.id)
      for (const licence of plan.prices.licences)
        licence.pools = licence.pools.filter((p) => p !== gone.id)
      if (!plan.pools.some((p) => p.schedule === gone.schedule))
        plan.schedules = plan.schedules.filter((s) => s.id !== gone.schedule)
    })
    go({ pool: undefined, against: undefined })
  }

  return { store, go, pool, against, index, table, rows, editPool, copy, remove }
}

export type Pools = ReturnType<typeof usePools>
