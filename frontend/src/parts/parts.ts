import { ref } from 'vue'

import type { Edit, Plan } from '@/api/client'

import { nameOf, type Named } from '@/plan/called'
import { usePlan } from '@/plan/store'

/** A list of the plan whose things have names, by a word for one of them. */
export type What = Extract<Edit, { verb: 'add-part' }>['what']

/** What was added last: its name stands ready to be typed. */
export const added = ref<{ what: What; id: string } | null>(null)

const listOf = (plan: Plan, what: What): Named[] =>
  what === 'licence' ? plan.prices.licences : plan[`${what}s`]

/** A name that no thing of the list has, in whatever case: the wanted one, or with a number. */
export function freeName(plan: Plan, what: What, wanted: string): string {
  const taken = new Set(listOf(plan, what).map((part) => nameOf(part).toLowerCase()))
  let name = wanted
  for (let k = 2; taken.has(name.toLowerCase()); k += 1) name = `${wanted} ${k}`
  return name
}

/** Have the server add a thing; its id, or null where it did not. */
async function more(what: What, edit: Edit): Promise<string | null> {
  const store = usePlan()
  if (!store.plan) return null
  const before = new Set(listOf(store.plan, what).map((part) => part.id))
  if (!(await store.apply(edit)) || !store.plan) return null
  const id = listOf(store.plan, what).find((part) => !before.has(part.id))?.id ?? null
  added.value = id === null ? null : { what, id }
  return id
}

/** Add a thing with values to begin with, called by a name that is still free. */
export function addPart(what: What, wanted: string): Promise<string | null> {
  const { plan } = usePlan()
  const name = plan ? freeName(plan, what, wanted) : wanted
  return more(what, { verb: 'add-part', what, name })
}

/** Add named people or people who drop in. */
export function addGroup(edit: Extract<Edit, { verb: 'add-group' }>): Promise<string | null> {
  return more('group', edit)
}

/** Copy a thing beside it. */
export function copyPart(what: What, part: Named): Promise<string | null> {
  const { plan } = usePlan()
  const wanted = `${nameOf(part)} copy`
  const name = plan ? freeName(plan, what, wanted) : wanted
  return more(what, { verb: 'copy-part', what, part: part.id, name })
}

/** Remove a thing; whether that was done. What uses it is told otherwise. */
export const removePart = (what: What, id: string) =>
  usePlan().apply({ verb: 'remove-part', what, part: id })
