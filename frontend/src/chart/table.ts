/** What a picture shows, as rows under their heads. */
export interface Table {
  head: readonly string[]
  rows: readonly (readonly (string | number | null)[])[]
}

/** A table as CSV; numbers as they are, texts quoted where they must be. */
export function csvOf({ head, rows }: Table): string {
  const cell = (value: string | number | null) => {
    if (typeof value === 'number') return String(Math.round(value * 1e6) / 1e6)
    const text = value ?? ''
    // A text that a spreadsheet would take for a formula is one no longer.
    const tame = /^[=+\-@\t\r]/.test(text) ? `'${text}` : text
    return /[",\n\r]/.test(tame) ? `"${tame.replaceAll('"', '""')}"` : tame
  }
  return [head, ...rows].map((row) => row.map(cell).join(',')).join('\n')
}
