/** A field in which two parts of a plan differ. */
export interface Difference {
  field: string
  one: string
  other: string
}

const shown = (value: unknown): string =>
  value === null || value === undefined
    ? 'none'
    : Array.isArray(value)
      ? value.length === 0
        ? 'none'
        : value.every((each) => typeof each !== 'object')
          ? value.join(', ')
          : `${value.length} entries`
      : String(value)

/** Every field in which two parts differ, nested ones by their dotted names. */
export function differencesOf(one: unknown, other: unknown, before = ''): Difference[] {
  const both = [one, other]
  if (both.every((each) => each !== null && typeof each === 'object' && !Array.isArray(each))) {
    const [a, b] = both as Record<string, unknown>[]
    const names = new Set([...Object.keys(a ?? {}), ...Object.keys(b ?? {})])
    return [...names].flatMap((name) =>
      differencesOf(a?.[name], b?.[name], before ? `${before}.${name}` : name),
    )
  }
  if (JSON.stringify(one) === JSON.stringify(other)) return []
  return [{ field: before, one: shown(one), other: shown(other) }]
}
