import type { Plan } from '@/api/client'
import { WEEKDAY_IDS } from '@/ui/format'

/** The pool, the day and the band in which a rule of a schedule is at work. */
function onBoard(plan: Plan, index: number, pointer: string): Record<string, string> {
  const schedule = plan.schedules[index]
  const query: Record<string, string> = {}
  const pool = plan.pools.find((each) => each.schedule === schedule?.id)
  if (pool) query.pool = pool.id
  const [, kind] = /day_types\/(\d+)/.exec(pointer) ?? []
  const weekday = kind ? schedule?.day_types[Number(kind)]?.weekdays[0] : undefined
  if (weekday) query.day = String(WEEKDAY_IDS.indexOf(weekday))
  const [, band] = /bands\/(\d+)/.exec(pointer) ?? []
  if (band) query.band = band
  return query
}

/** Where in the application a place of the plan is edited: a view and what it has chosen. */
export function routeTo(
  plan: Plan,
  pointer: string,
): { name: string; query: Record<string, string> } {
  const [list, at, field] = pointer.replace(/^\//, '').split('/')
  const index = Number(at)
  if (list === 'groups') {
    const group = plan.groups[index]?.id
    return { name: 'people', query: group ? { group } : {} }
  }
  if (list === 'access') {
    const group = plan.access[index]?.group
    return { name: 'people', query: group ? { group } : {} }
  }
  if (list === 'pools') {
    const pool = plan.pools[index]?.id
    const onPicture = field === 'size' || field === 'session_limit'
    return { name: onPicture ? 'hosts' : 'pools', query: pool ? { pool } : {} }
  }
  if (list === 'sizes') {
    const size = plan.sizes[index]?.id
    const pool = plan.pools.find((each) => each.size === size)?.id
    return { name: 'hosts', query: pool ? { pool } : {} }
  }
  if (list === 'schedules') return { name: 'board', query: onBoard(plan, index, pointer) }
  return { name: 'hosts', query: {} }
}
