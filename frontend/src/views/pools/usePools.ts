import { computed, shallowRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { Plan, Pool, PoolRow, PoolsAnswer } from '@/api/client'
import { keyOf } from '@/ask/content'
import { inParts } from '@/ask/parts'
import { useQuestion } from '@/ask/question'
import { named } from '@/ask/send'
import { PLAN } from '@/plan/lens'
import { usePlan } from '@/plan/store'
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

  /** Rows until the first whole answer is there; a newer one takes the place of an older. */
  const early = shallowRef<PoolRow[]>([])
  const table = useQuestion<Plan, PoolsAnswer>(
    (plan, call) => {
      const body = { plan, ...named(call) }
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
    (plan) => {
      if (plan?.pools.length) return table.ask(plan)
      early.value = []
      table.forget()
    },
    { immediate: true },
  )

  const poolAt = computed(() => PLAN.at('pools').item(pool.value?.id ?? ''))

  /** A copy beside the pool, with a schedule of its own, compared with it at once. */
  async function copy(): Promise<void> {
    const from = pool.value?.id
    if (!from) return
    const id = freeId(`${from}-copy`, store.plan?.pools.map((p) => p.id) ?? [])
    if (await store.apply({ verb: 'copy-pool', pool: from, new: id }))
      go({ pool: id, against: from })
  }
  async function remove(): Promise<void> {
    const gone = pool.value?.id
    if (!gone) return
    if (await store.apply({ verb: 'remove-pool', pool: gone }))
      go({ pool: undefined, against: undefined })
  }

  return { store, go, pool, against, table, rows, poolAt, copy, remove }
}

export type Pools = ReturnType<typeof usePools>
