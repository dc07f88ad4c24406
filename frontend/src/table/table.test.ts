import { beforeEach, describe, expect, it } from 'vitest'

import type { Hint, Plan } from '@/api/client'
import { takeHints } from '@/help/hints'
import { PLAN } from '@/plan/lens'

import { readText, tableRows, textOf, valueAt, type Column } from './columns'
import { fitting, inOrder, pastedLines, pressed, usual } from './order'

const plan = {
  pools: [
    { id: 'office', name: '', session_limit: 14, idle_timeout: 7200, kind: 'shared', disk: null },
    { id: 'night-desk', name: 'Büro', session_limit: 1, idle_timeout: 'never', kind: 'lent', disk: 'a' },
  ],
} as unknown as Plan
const [office, desk] = tableRows(PLAN.at('pools').rows(plan))
const LIMIT: Column = { field: 'session_limit', head: 'Sessions' }
const IDLE: Column = { field: 'idle_timeout', head: 'Idle', kind: 'timeout' }
const KIND: Column = { field: 'kind', head: 'Kind' }
const DISK: Column = { field: 'disk', head: 'Disk', options: [{ value: 'a', text: 'Deck' }], none: 'none' }

function hint(path: string, more: Partial<Hint>): Hint {
  return { path, meaning: '', unit: '', low: null, high: null, whole: null, step: null, choices: [], ...more } as Hint
}
const has = <T>(row: T | undefined): T => {
  if (row === undefined) throw new Error('no such row')
  return row
}

beforeEach(() => {
  takeHints([
    hint('pools.session_limit', { low: 1, high: 1000, whole: true }),
    hint('pools.kind', { choices: ['shared', 'lent'] }),
  ])
})

describe('a cell', () => {
  it('is read and written as it is declared', () => {
    expect([has(office).name, has(desk).name]).toEqual(['Office', 'Büro'])
    const shown = (column: Column) =>
      [office, desk].map((row) => textOf(valueAt(plan, has(row), column), has(row), column))
    expect(shown(LIMIT)).toEqual(['14', '1'])
    expect(shown(IDLE)).toEqual(['120', 'never'])
    expect(shown(DISK)).toEqual(['none', 'Deck'])
    expect(readText('1,000', has(office), LIMIT)).toEqual({ value: 1000 })
    expect(readText('1.5', has(office), LIMIT)).toEqual({ wrong: 'give a whole number' })
    expect(readText('0', has(office), LIMIT)).toEqual({ wrong: 'from 1 to 1000' })
    expect(readText('45', has(office), IDLE)).toEqual({ value: 2700 })
    expect(readText('Lent', has(office), KIND)).toEqual({ value: 'lent' })
    expect(readText('rented', has(office), KIND)).toEqual({ wrong: 'one of shared, lent' })
    expect(readText('none', has(desk), DISK)).toEqual({ value: null })
    expect(readText('deck', has(office), DISK)).toEqual({ value: 'a' })
  })
  it('of a date takes a date', () => {
    const day: Column = { field: 'first_date', head: 'First', kind: 'date', none: 'the beginning' }
    expect(readText('2027-03-01', has(office), day)).toEqual({ value: '2027-03-01' })
    expect(readText('1 March', has(office), day)).toEqual({ wrong: 'give a date such as 2027-03-01' })
  })
})

describe('rows', () => {
  const cell = (row: unknown[], by: string) => row[Number(by)]
  it('stand in the order of a head, with what is empty last', () => {
    const rows = [['b', 10], ['', 2], ['A', 9]]
    expect(inOrder(rows, { by: '0', down: false }, cell).map((r) => r[0])).toEqual(['A', 'b', ''])
    expect(inOrder(rows, { by: '0', down: true }, cell).map((r) => r[0])).toEqual(['b', 'A', ''])
    expect(inOrder(rows, { by: '1', down: false }, cell).map((r) => r[1])).toEqual([2, 9, 10])
    expect(inOrder(rows, null, cell)).toEqual(rows)
    expect(pressed(pressed(pressed(null, 'a'), 'a'), 'a')).toBeNull()
    expect(pressed({ by: 'a', down: true }, 'b')).toEqual({ by: 'b', down: false })
  })
  it('are left out where a word of the filter is missing', () => {
    const rows = ['Head office, sloop', 'Field, skiff']
    expect(fitting(rows, 'SLOOP head', (row) => [row])).toEqual([rows[0]])
    expect(fitting(rows, ' ', (row) => [row])).toEqual(rows)
  })
  it('differ from what more than half of them have', () => {
    expect(usual(['a', 'a', 'b'])).toBe('a')
    expect(usual(['a', 'a', 'b', 'b'])).toBeNull()
    expect(usual(['a', 'a'])).toBeNull()
  })
  it('are pasted from the first cells of lines', () => {
    expect(pastedLines('12\tx\r\n13\r\n')).toEqual(['12', '13'])
    expect(pastedLines('"a ""b"""\n2')).toEqual(['a "b"', '2'])
  })
})
