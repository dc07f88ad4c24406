import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'

import { api, type Plan } from '@/api/client'

import { useWeeks, type WeekWish } from './weeks'

interface Asked {
  path: string
  preview?: boolean
  name: string
  ended: boolean
  answer: (data?: object) => Promise<void>
}

/** Weeks on a page of their own, and what it asks the server; plans tell by their names. */
function page() {
  const calls: Asked[] = []
  vi.spyOn(api, 'POST').mockImplementation(((path: string, init: Record<string, never>) => {
    const { body, signal } = init as unknown as {
      body: { plan: Plan; preview?: boolean }
      signal: AbortSignal
    }
    return new Promise((reply, refuse) => {
      const call: Asked = {
        path,
        preview: body.preview,
        name: body.plan.name,
        ended: false,
        answer: async (data = { of: body.plan.name, preview: body.preview ?? null }) => {
          reply({ data, response: { status: 200 } })
          await vi.advanceTimersByTimeAsync(0)
        },
      }
      signal.addEventListener('abort', () => {
        call.ended = true
        refuse(new Error('aborted'))
      })
      calls.push(call)
    })
  }) as never)
  let weeks!: ReturnType<typeof useWeeks>
  const held = mount({ setup: () => ((weeks = useWeeks()), () => null) })
  const last = () => calls[calls.length - 1] as Asked
  return { weeks, calls, last, held }
}
const plan = (name: string) => ({ name }) as Plan
const wish = (of: Plan, more: Partial<WeekWish> = {}): WeekWish => ({
  plan: of,
  pool: 'p',
  first: '2027-03-01',
  saved: false,
  day: 0,
  settled: true,
  ...more,
})
const later = (ms = 200) => vi.advanceTimersByTimeAsync(ms)

beforeEach(() => void vi.useFakeTimers())
afterEach(() => {
  vi.useRealTimers()
  vi.restoreAllMocks()
})

/** A page that shows the whole week of a plan, and the range has come. */
async function settled() {
  const found = page()
  found.weeks.ask(wish(plan('first')))
  await found.last().answer()
  await later()
  await found.last().answer()
  return found
}

describe('the weeks of a page', () => {
  it('begin with the whole week, and its range follows', async () => {
    const { weeks, calls } = await settled()
    expect(calls.map(({ path, preview }) => [path, preview])).toEqual([
      ['/api/simulations/week', false],
      ['/api/simulations/range', undefined],
    ])
    expect([weeks.fits, weeks.kept, weeks.busy]).toEqual([true, true, false])
    expect(weeks.range).toEqual({ of: 'first', preview: null })
  })

  it('show a release as soon as its picture is there, and its whole week later', async () => {
    const { weeks, calls, last } = await settled()
    weeks.ask(wish(plan('released')))
    expect([weeks.fits, weeks.kept, last().preview]).toEqual([false, false, true])
    await last().answer()
    expect(weeks.week).toEqual({ of: 'released', preview: true })
    expect([weeks.fits, weeks.kept, weeks.busy, weeks.range]).toEqual([true, false, false, null])
    await later()
    expect(last().preview).toBe(false)
    await last().answer()
    expect(weeks.whole).toEqual({ of: 'released', preview: false })
    // The picture that is there says the same: it is not drawn again.
    expect(weeks.week).toEqual({ of: 'released', preview: true })
    expect(weeks.kept).toBe(true)
    await later()
    expect([calls.length, last().path]).toEqual([5, '/api/simulations/range'])
  })

  it('wait for the picture of the released plan where it is on its way already', async () => {
    const { weeks, calls, last } = await settled()
    const dragged = plan('dragged')
    weeks.ask(wish(dragged, { settled: false }))
    weeks.ask(wish(dragged))
    expect([calls.length, last().ended]).toEqual([3, false])
    await last().answer()
    expect(weeks.fits).toBe(true)
  })

  it('end what is answered for another plan once the hand lets go, and not before', async () => {
    const { weeks, calls, last } = await settled()
    weeks.ask(wish(plan('a'), { settled: false }))
    weeks.ask(wish(plan('b'), { settled: false }))
    expect([calls.length, last().name, last().ended]).toEqual([3, 'a', false])
    weeks.ask(wish(plan('c')))
    expect([calls[2]?.ended, last().name, last().ended]).toEqual([true, 'c', false])
  })

  it('show another day of the whole week without asking', async () => {
    const { weeks, calls, last } = await settled()
    const released = plan('released')
    weeks.ask(wish(released))
    await last().answer()
    await later()
    await last().answer()
    const asked = calls.length
    weeks.ask(wish(released, { day: 3 }))
    expect(weeks.week).toEqual({ of: 'released', preview: false })
    expect([weeks.fits, calls.length]).toEqual([true, asked])
  })

  it('go with the page', async () => {
    const { weeks, calls, last, held } = await settled()
    weeks.ask(wish(plan('next')))
    held.unmount()
    expect(last().ended).toBe(true)
    await later(1000)
    expect(calls).toHaveLength(3)
  })
})
