import type { Plan } from '@/api/client'
import { words } from '@/ui/format'

import { usePlan } from './store'

/** What is called by a name: a thing of one of the plan's lists. */
export interface Named {
  id: string
  name: string
}
/** The lists whose things other parts of the plan and answers refer to by id. */
export type ListName =
  | 'pools'
  | 'groups'
  | 'sites'
  | 'places'
  | 'sizes'
  | 'disks'
  | 'images'
  | 'profiles'
  | 'schedules'
  | 'events'

/** What people call a thing; where nobody has named it, its id as words. */
export const nameOf = (part: Named): string => part.name || words(part.id)

const known = new WeakMap<Plan, Map<string, string>>()

function namesOf(plan: Plan, list: ListName): Map<string, string> {
  let names = known.get(plan)
  if (!names) known.set(plan, (names = new Map()))
  if (!names.has(list)) {
    names.set(list, '')
    for (const part of plan[list] ?? []) names.set(`${list}/${part.id}`, nameOf(part))
  }
  return names
}

/** What a kind of day of a schedule is called. */
export function calledDay(schedule: string, id: string): string {
  const rules = usePlan().plan?.schedules.find((each) => each.id === schedule)
  const kind = rules?.day_types.find((each) => each.id === id)
  return kind ? nameOf(kind) : words(id)
}

/** What the thing of an id is called in the plan on the page. */
export function called(list: ListName, id: string): string {
  const { plan } = usePlan()
  return (plan && namesOf(plan, list).get(`${list}/${id}`)) || words(id)
}
