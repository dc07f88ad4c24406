import type { Plan } from '@/api/client'
import { choicesOf, numbersOf, type Choice } from '@/help/hints'
import { nameOf, type Named } from '@/plan/called'
import type { Lens, Row } from '@/plan/lens'
import { inMinutes, inSeconds, type Timeout } from '@/ui/timeouts'
import { readingOf, shownOf, type Rule, type Typed } from '@/ui/typing'

/** A field of the rows' parts as a column; bounds, step and choices are those declared for it. */
export interface Column {
  field: string
  head: string
  /** A text of several values: `timeout` is in seconds or never, shown in minutes. */
  kind?: Typed | 'date'
  unit?: string
  scale?: number
  /** Names of the plan that may stand here. */
  options?: readonly Choice[]
  /** What is shown where the field is without a value; it may be so then. */
  none?: string
  yes?: string
  no?: string
  /** A column that is hidden until somebody chooses it. */
  rare?: boolean
}
/** A part of the plan as a row, with what it is called. */
export interface TableRow {
  key: string
  name: string
  part: Named
  at: Lens<unknown>
}
/** The rows of one of the plan's lists. */
export const tableRows = (rows: readonly Row<Named>[]): TableRow[] =>
  rows.map((row) => ({
    key: row.key,
    name: nameOf(row.value),
    part: row.value,
    at: row.at as Lens<unknown>,
  }))
/** Things of the plan as what may be chosen in a column. */
export const optionsOf = (parts: readonly Named[]): Choice[] =>
  parts.map((part) => ({ value: part.id, text: nameOf(part) }))
/** A value of the plan in a cell; `undefined` where the part has no such field. */
export type Value = string | number | boolean | null | undefined

const lensOf = (row: TableRow, column: Column) => row.at.field(column.field)

export function valueAt(plan: Plan, row: TableRow, column: Column): Value {
  return lensOf(row, column).read(plan) as Value
}

/** What may stand in a column, where only a few words may. */
export function choicesFor(row: TableRow, column: Column): Choice[] {
  const { yes, no, none, options } = column
  if (yes !== undefined && no !== undefined)
    return [
      { value: 'false', text: no },
      { value: 'true', text: yes },
    ]
  const named = options ?? choicesOf(lensOf(row, column).path)
  if (!named.length) return []
  return none === undefined ? [...named] : [{ value: '', text: none }, ...named]
}

/** How the value of a cell is written: a column without a kind may have dates in some rows. */
export function kindOf(value: Value, column: Column): Typed | 'date' {
  if (column.kind) return column.kind
  if (typeof value !== 'string') return 'number'
  return /^\d{4}-\d\d-\d\d$/.test(value) ? 'date' : 'text'
}

const ruleOf = (row: TableRow, column: Column, kind: Typed | 'date'): Rule => ({
  kind: kind === 'date' ? 'text' : kind,
  scale: column.scale,
  ...numbersOf(lensOf(row, column).path),
})

/** A value as its cell shows it. */
export function textOf(value: Value, row: TableRow, column: Column): string {
  if (value === undefined) return ''
  const choices = choicesFor(row, column)
  if (choices.length)
    return choices.find((each) => each.value === String(value ?? ''))?.text ?? String(value ?? '')
  if (value === null) return column.none ?? ''
  if (column.kind === 'timeout') return inMinutes(value as Timeout)
  return shownOf(value as number | string, ruleOf(row, column, kindOf(value, column)))
}

/** A text as a value of the plan, or why it is none. */
export function readText(
  text: string,
  row: TableRow,
  column: Column,
  before?: Value,
): { value: Value } | { wrong: string } {
  const kind = kindOf(before, column)
  const typed = text.trim()
  const choices = choicesFor(row, column)
  if (choices.length) {
    const like = typed.toLowerCase()
    const found = choices.find(
      (each) => each.text.toLowerCase() === like || each.value.toLowerCase() === like,
    )
    if (!found) return { wrong: `one of ${choices.map((each) => each.text).join(', ')}` }
    if (column.yes !== undefined) return { value: found.value === 'true' }
    return { value: found.value === '' ? null : found.value }
  }
  if (column.none !== undefined && (typed === '' || typed === column.none)) return { value: null }
  if (kind === 'date' && !/^\d{4}-\d\d-\d\d$/.test(typed))
    return { wrong: 'give a date such as 2027-03-01' }
  const reading = readingOf(typed, ruleOf(row, column, kind))
  if ('wrong' in reading || column.kind !== 'timeout') return reading
  return { value: inSeconds(String(reading.value)) }
}
