/** In which order rows stand, and which of them. */
export interface Sorted {
  by: string
  down: boolean
}

const collator = new Intl.Collator('en', { numeric: true, sensitivity: 'base' })

/** Compare two cells: numbers as numbers, texts as people sort them. */
function compared(one: unknown, other: unknown): number {
  const [a, b] = [Number(one), Number(other)]
  if (!Number.isNaN(a) && !Number.isNaN(b)) return a - b
  return collator.compare(String(one), String(other))
}

/** The rows in order of a cell; where none is chosen, as they are. What is empty stays last. */
export function inOrder<T>(
  rows: readonly T[],
  sorted: Sorted | null,
  cell: (row: T, by: string) => unknown,
): T[] {
  if (!sorted) return [...rows]
  const [some, empty] = [[] as T[], [] as T[]]
  for (const row of rows) {
    const into = (cell(row, sorted.by) ?? '') === '' ? empty : some
    into.push(row)
  }
  some.sort((a, b) => compared(cell(a, sorted.by), cell(b, sorted.by)))
  if (sorted.down) some.reverse()
  return [...some, ...empty]
}

/** The next order when a head is pressed: up, then down, then as they are. */
export function pressed(sorted: Sorted | null, by: string): Sorted | null {
  if (sorted?.by !== by) return { by, down: false }
  return sorted.down ? null : { by, down: true }
}

/** Rows in whose cells all words of a filter stand. */
export function fitting<T>(
  rows: readonly T[],
  filter: string,
  cells: (row: T) => readonly string[],
): T[] {
  const wanted = filter.toLowerCase().split(/\s+/).filter(Boolean)
  return rows.filter((row) => {
    const text = cells(row).join('\n').toLowerCase()
    return wanted.every((word) => text.includes(word))
  })
}

/** The text that more than half of a column's rows have; null where none is, or all are alike. */
export function usual(texts: readonly string[]): string | null {
  const times = new Map<string, number>()
  for (const text of texts) times.set(text, (times.get(text) ?? 0) + 1)
  const [most] = [...times].sort((a, b) => b[1] - a[1])
  return most && 2 * most[1] > texts.length && most[1] < texts.length ? most[0] : null
}

/** The lines of a pasted column; a spreadsheet's row gives its first cell. */
export function pastedLines(text: string): string[] {
  const lines = text.replaceAll('\r\n', '\n').replaceAll('\r', '\n').split('\n')
  if (lines.at(-1) === '') lines.pop()
  return lines.map((line) => {
    const cell = line.split('\t')[0] ?? ''
    return /^".*"$/.test(cell) ? cell.slice(1, -1).replaceAll('""', '"') : cell
  })
}
