import { produce } from 'immer'
import { describe, expect, it } from 'vitest'

import type { Plan } from '@/api/client'

import { Edited } from './edited'
import { PLAN } from './lens'
import { rowKey } from './rows'

const event = (name: string) => ({ id: name, groups: ['a'], when: { from: name } })
const first = {
  events: [event('x'), event('y'), event('z')],
  access: [{ use: 1 }, { use: 2 }, { use: 3 }],
  groups: [
    { id: 'a', growth: null, demand: { kind: 'headcount', people: 5 } },
    { id: 'b', growth: { per_year: 0.1 }, demand: { kind: 'drop-in', people: 0 } },
  ],
} as unknown as Plan
const access = PLAN.at('access')
const changed = (plan: Plan, change: (copy: Plan) => void) =>
  produce(plan, (copy: Plan) => {
    change(copy)
  })
const uses = (plan: Plan) => plan.access.map((each) => each.use)

describe('a lens', () => {
  it('reads and writes its part by name, id and path of the field table', () => {
    const at = PLAN.at('groups').item('b').at('growth').at('per_year')
    expect([at.path, at.read(first)]).toEqual(['groups.growth.per_year', 0.1])
    const plan = changed(first, (copy) => at.write(copy, 0.2))
    expect([at.read(plan), at.read(first)]).toEqual([0.2, 0.1])
    expect(PLAN.field('prices.credits').path).toBe('prices.credits')
  })

  it('leads to its row wherever that stands by then, and to no other', () => {
    const edited = new Edited({ number: 1, plan: first })
    const [one, two, three] = access.rows(first)
    edited.commit(changed(first, (copy) => two?.at.at('use').write(copy, 20)))
    edited.commit(changed(edited.present.plan, (copy) => one?.at.remove(copy)))
    const plan = edited.present.plan
    expect(uses(plan)).toEqual([20, 3])
    expect(access.rows(plan).map(({ key }) => key)).toEqual([two?.key, three?.key])
    // The row is gone: nothing else is written in its place.
    const same = changed(plan, (copy) => one?.at.at('use').write(copy, 99))
    expect(uses(same)).toEqual([20, 3])
    edited.undo()
    expect(access.rows(edited.present.plan)[0]?.key).toBe(one?.key)
  })

  it('knows its row in a plan that came from the server', () => {
    const edited = new Edited({ number: 1, plan: first })
    const keys = access.rows(first).map(({ key }) => key)
    const answer = JSON.parse(JSON.stringify(first)) as Plan
    answer.access = [answer.access[1], { ...answer.access[2], use: 9 }, answer.access[0]] as never
    edited.commit(answer)
    expect(access.rows(answer).map(({ key }) => key)).toEqual([keys[1], keys[2], keys[0]])
    answer.access.push({ use: 4 } as never)
    expect(keys).not.toContain(rowKey(answer.access[3] as object))
  })

  it('leads to a part of one kind, and to nothing where there is another', () => {
    const of = (group: string) => PLAN.at('groups').item(group).at('demand').kind('headcount')
    expect(of('a').read(first)?.people).toBe(5)
    expect(of('b').read(first)).toBeUndefined()
    const plan = changed(first, (copy) => of('b').edit(copy, (demand) => (demand.people = 7)))
    expect(plan).toBe(first)
  })

  it('writes nothing into a part that is not there', () => {
    const at = PLAN.at('groups').item('a').at('growth').at('per_year')
    expect(at.read(first)).toBeUndefined()
    expect(changed(first, (copy) => at.write(copy, 1))).toBe(first)
  })
})
