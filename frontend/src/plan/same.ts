/** Whether two documents say the same, whatever the order of their fields. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || !a || !b) return false
  if (Array.isArray(a) || Array.isArray(b)) {
    if (!Array.isArray(a) || !Array.isArray(b) || a.length !== b.length) return false
    return a.every((each, k) => same(each, b[k]))
  }
  const [one, two] = [a as Record<string, unknown>, b as Record<string, unknown>]
  const names = Object.keys(one)
  if (names.length !== Object.keys(two).length) return false
  return names.every((name) => name in two && same(one[name], two[name]))
}
