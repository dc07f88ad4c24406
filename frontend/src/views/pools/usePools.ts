import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

import type { Pool } from '@/api/client'
import { addPart, copyPart, removePart } from '@/parts/parts'
import { PLAN } from '@/plan/lens'
import { usePoolRows } from '@/plan/poolRows'
import { usePlan } from '@/plan/store'

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

  async function add(): Promise<void> {
    const id = await addPart('pool', 'New pool')
    if (id) go({ pool: id, against: undefined })
  }
  /** A copy beside the pool, with a schedule of its own, compared with it at once. */
  async function copy(): Promise<void> {
    const from = pool.value
    const id = from && (await copyPart('pool', from))
    if (id) go({ pool: id, against: from.id })
  }
  async function remove(): Promise<void> {
    const gone = pool.value?.id
    if (gone && (await removePart('pool', gone))) go({ pool: undefined, against: undefined })
  }

  return { store, go, pool, against, table, rows, poolAt, add, copy, remove }
}

export type Pools = ReturnType<typeof usePools>
