import { isDraft, original } from 'immer'

import { same } from './same'

/**
 * Rows of the plan's lists that have no id of their own are known by keys. A key belongs to the
 * row through edits, undo and answers of the server, whatever place in its list the row has.
 */
const keys = new WeakMap<object, string>()
let last = 0

const isObject = (value: unknown): value is object => typeof value === 'object' && value !== null

/** The key of a row, of one inside an edit too. */
export function rowKey(row: object): string {
  const plain = isDraft(row) ? (original(row) ?? row) : row
  let key = keys.get(plain)
  if (key === undefined) {
    last += 1
    key = `row ${last}`
    keys.set(plain, key)
  }
  return key
}

/** Lists that differ in more rows are not looked through for equal ones. */
const FEW = 50

const idOf = (row: object) => ('id' in row ? row.id : undefined)

/** Rows of one list beside those of another: equal ones, then those of one id, then in order. */
function pairs(before: readonly unknown[], after: readonly unknown[]): [object, object][] {
  const there = new Set(before)
  const still = new Set(after)
  const gone = new Set(before.filter((row): row is object => isObject(row) && !still.has(row)))
  const found: [object, object][] = []
  const pairWith = (oldOf: (row: object) => object | undefined) => (row: object) => {
    const old = oldOf(row)
    if (old === undefined || !gone.delete(old)) return true
    found.push([old, row])
    return false
  }
  const byId = new Map([...gone].map((row) => [idOf(row), row]))
  const fresh = after.filter((row): row is object => isObject(row) && !there.has(row))
  const few = fresh.length < FEW
  fresh
    .filter(pairWith((row) => (few ? [...gone].find((old) => same(old, row)) : undefined)))
    .filter(pairWith((row) => (idOf(row) === undefined ? undefined : byId.get(idOf(row)))))
    .filter(pairWith(() => gone.values().next().value))
  return found
}

/** Give the rows of a plan after an edit the keys that they had before it. */
export function carryKeys(before: unknown, after: unknown): void {
  if (before === after || !isObject(before) || !isObject(after)) return
  if (Array.isArray(before) && Array.isArray(after)) {
    for (const [old, row] of pairs(before, after)) {
      if (!keys.has(row)) keys.set(row, rowKey(old))
      carryKeys(old, row)
    }
    return
  }
  for (const [name, value] of Object.entries(after)) {
    carryKeys((before as Record<string, unknown>)[name], value)
  }
}
