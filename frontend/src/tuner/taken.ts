import type { Plan, Pool, Schedule, StudyPoint } from '@/api/client'

/** Put designs into a plan; a schedule that others have too is left to them. */
export function put(plan: Plan, points: readonly Pick<StudyPoint, 'pool' | 'schedule'>[]): void {
  for (const point of points) {
    const pool = point.pool as unknown as Pool
    const schedule = point.schedule as unknown as Schedule
    const at = plan.pools.findIndex((p) => p.id === pool.id)
    if (at < 0) continue
    plan.pools[at] = pool
    const known = plan.schedules.findIndex((s) => s.id === schedule.id)
    if (known < 0) plan.schedules.push(schedule)
    else plan.schedules[known] = schedule
  }
}

/** The plan with designs in it. */
export function withPoints(
  plan: Plan,
  points: readonly Pick<StudyPoint, 'pool' | 'schedule'>[],
): Plan {
  const changed = { ...plan, pools: [...plan.pools], schedules: [...plan.schedules] }
  put(changed, points)
  return changed
}
