import { computed, shallowRef, watch } from 'vue'

import type { Plan, PoolRow, PoolsAnswer } from '@/api/client'
import { keyOf } from '@/ask/content'
import { inParts } from '@/ask/parts'
import { useQuestion } from '@/ask/question'
import { named } from '@/ask/send'

import { usePlan } from './store'

/** Every pool of the plan with its figures, asked anew whenever the plan changes while it is
 * wanted. */
export function usePoolRows(wanted: () => boolean = () => true) {
  const store = usePlan()
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
    () => [store.plan, wanted()] as const,
    ([plan, asked]) => {
      if (!asked) return
      if (plan?.pools.length) return table.ask(plan)
      early.value = []
      table.forget()
    },
    { immediate: true },
  )
  return { table, rows }
}
