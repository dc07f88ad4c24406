import type { Plan } from '@/api/client'

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
  return { name: 'hosts', query: {} }
}
