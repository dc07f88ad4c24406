import { describe, expect, it } from 'vitest'

import { counted } from '@/ui/format'

import { freeName, LONGEST_NAME } from './useShelf'

describe('a copy', () => {
  it('is called like its plan, with the first number that is free', () => {
    expect(freeName('Pier', ['Pier'])).toBe('Pier (2)')
    expect(freeName('Pier', ['Pier', 'Pier (2)', 'Pier (3)', 'Pier (5)'])).toBe('Pier (4)')
  })
  it('has a name that a plan may have', () => {
    const name = freeName('x'.repeat(LONGEST_NAME), [])
    expect([name.length <= LONGEST_NAME, name.endsWith(' (2)')]).toEqual([true, true])
  })
})

it('counts agree with their nouns', () => {
  expect([counted(1, 'pool'), counted(0, 'pool'), counted(1200, 'pool')]).toEqual([
    '1 pool',
    '0 pools',
    '1,200 pools',
  ])
  expect(counted(2, 'person', 'people')).toBe('2 people')
})
