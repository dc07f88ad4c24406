import { describe, expect, it } from 'vitest'

import type { Plan } from '@/api/client'

import { Edited } from './edited'
import { same } from './same'

const plan = (name: string) => ({ name }) as unknown as Plan
const base = (number: number, name = `r${number}`) => ({ number, plan: plan(name) })
const shown = (edited: Edited) => [
  edited.present.plan.name,
  edited.present.base.number,
  edited.dirty,
]

describe('a plan as edited', () => {
  it('undoes, redoes, and forgets what was undone after a new edit', () => {
    const edited = new Edited(base(1))
    edited.commit(plan('a'))
    edited.commit(plan('b'))
    edited.undo()
    expect(shown(edited)).toEqual(['a', 1, true])
    edited.redo()
    expect(shown(edited)).toEqual(['b', 1, true])
    edited.undo()
    edited.commit(plan('c'))
    expect(edited.canRedo).toBe(false)
    edited.undo()
    edited.undo()
    expect([...shown(edited), edited.canUndo]).toEqual(['r1', 1, false, false])
  })

  it('never shows one revision under the number of another', () => {
    const edited = new Edited(base(5))
    edited.commit(plan('draft'), base(3))
    edited.undo()
    expect(shown(edited)).toEqual(['r5', 5, false])
    edited.redo()
    expect(shown(edited)).toEqual(['draft', 3, true])
  })

  it('goes on from a save, with what was edited before and since', () => {
    const edited = new Edited(base(1))
    edited.commit(plan('sent'))
    const sent = edited.present
    edited.commit(plan('since'))
    edited.savedAs(sent, base(2, 'sent'))
    expect(shown(edited)).toEqual(['since', 2, true])
    edited.undo()
    expect(shown(edited)).toEqual(['sent', 2, false])
    edited.undo()
    expect(shown(edited)).toEqual(['r1', 2, true])
  })

  it('compares documents whatever the order of their fields', () => {
    expect(same({ a: 1, b: [{ c: 2, d: 3 }] }, { b: [{ d: 3, c: 2 }], a: 1 })).toBe(true)
    expect(same({ a: [1, 2] }, { a: [2, 1] })).toBe(false)
  })
})
