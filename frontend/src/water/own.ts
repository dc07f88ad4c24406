import type { Band, BandException, ReadyBy, ReadyByException } from '@/api/client'

/** What one pool may have otherwise than the schedule that it shares. */
const BAND: Record<Exclude<keyof BandException, 'pool'>, true> = {
  floor: true,
  floor_share: true,
  fill_ceiling: true,
  headroom: true,
  headroom_share: true,
  lid: true,
  session_limit: true,
  knock: true,
  rule: true,
  mark: true,
  release: true,
  margin: true,
  least_run_minutes: true,
  draining_most: true,
  draining_share: true,
}
const TARGET: Record<Exclude<keyof ReadyByException, 'pool'>, true> = { hosts: true, share: true }

/** Whose values are changed: a pool's alone, or, but for what it has already, everybody's. */
export interface Whose {
  pool: string
  alone: boolean
}
type Values = Record<string, unknown>
interface Thing {
  exceptions: { pool: string }[]
}

function ownOf(thing: Thing, pool: string): Values | undefined {
  return thing.exceptions.find((each) => each.pool === pool) as Values | undefined
}

/** A band or a target as one pool has it. */
export function asInPool<T extends Band | ReadyBy>(thing: T, pool: string): T {
  const own = ownOf(thing, pool)
  if (!own) return thing
  const given = Object.entries(own).filter(([name, value]) => name !== 'pool' && value !== null)
  return { ...thing, ...Object.fromEntries(given) }
}

function set(thing: Thing & Values, may: object, whose: Whose, name: string, value: unknown): void {
  const own = ownOf(thing, whose.pool)
  const has = own !== undefined && own[name] !== null && own[name] !== undefined
  if (!(name in may) || !(whose.alone || has)) {
    thing[name] = value
    return
  }
  if (own) own[name] = value
  else {
    const none = Object.fromEntries(Object.keys(may).map((key) => [key, null]))
    thing.exceptions.push({ ...none, pool: whose.pool, [name]: value } as { pool: string })
  }
  thing.exceptions = thing.exceptions.filter((each) =>
    Object.entries(each).some(([key, given]) => key !== 'pool' && given !== null),
  )
}

/** Change values of a band or a target, for all that have the schedule or for one pool alone. */
export function setOwn(thing: Band | ReadyBy, whose: Whose, values: Values): void {
  const may = 'floor' in thing ? BAND : TARGET
  for (const [name, value] of Object.entries(values))
    set(thing as unknown as Thing & Values, may, whose, name, value)
}

/** The same, of an edit of the thing as the pool has it. */
export function editOwn<T extends Band | ReadyBy>(
  thing: T,
  whose: Whose,
  edit: (thing: T) => void,
): void {
  const before = JSON.parse(JSON.stringify(asInPool(thing, whose.pool))) as T & Values
  const now = JSON.parse(JSON.stringify(before)) as T & Values
  edit(now)
  const changed = Object.keys(now).filter(
    (name) => JSON.stringify(now[name]) !== JSON.stringify(before[name]),
  )
  setOwn(thing, whose, Object.fromEntries(changed.map((name) => [name, now[name]])))
}
