import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { Pool } from '@/api/client'
import { PLAN } from '@/plan/lens'
import { usePoolRows } from '@/plan/poolRows'
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

  const { table, rows } = usePoolRows()

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
