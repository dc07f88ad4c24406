import { mount } from '@vue/test-utils'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'

import { api, type Plan } from '@/api/client'

import { useWeeks } from './weeks'

/** Enough to find a flight that is not ended: one run in some 150 met it. */
const RUNS = 400
const WISHES = 12

beforeEach(() => void vi.useFakeTimers())
afterEach(() => {
  vi.useRealTimers()
  vi.restoreAllMocks()
})

/** Whole numbers below a bound, the same for the same seed. */
function dice(seed: number) {
  let state = seed >>> 0
  return (below: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return Math.floor((state / 2 ** 32) * below)
  }
}

interface Sent {
  body: { tab: string; edit: number; plan: Plan; preview?: boolean }
  signal: AbortSignal
}

/** A server that is slow by chance, and answers 204 where a newer edit of the page has come. */
function slowServer(roll: (below: number) => number, log: string[]): void {
  const newest = new Map<string, number>()
  vi.spyOn(api, 'POST').mockImplementation(((path: string, { body, signal }: Sent) => {
    const { tab, edit, plan, preview } = body
    return new Promise((reply, refuse) => {
      log.push(`sent ${edit}: ${path} ${plan.name} ${preview ?? ''}`)
      signal.addEventListener('abort', () => refuse(new Error('aborted')))
      const answer = () => {
        const superseded = edit < (newest.get(tab) ?? 0)
        log.push(`answered ${edit}${superseded ? ' with nothing' : ''}`)
        if (superseded) reply({ response: { status: 204 } })
        else reply({ data: { of: plan.name }, response: { status: 200 } })
      }
      const arrive = () => {
        newest.set(tab, Math.max(newest.get(tab) ?? 0, edit))
        setTimeout(answer, roll(300))
      }
      setTimeout(arrive, roll(50))
    })
  }) as never)
}

/** What a page of drawn wishes shows once all is quiet. */
async function quiet(seed: number) {
  const roll = dice(seed * 7919 + 1)
  const log: string[] = []
  slowServer(roll, log)
  let weeks!: ReturnType<typeof useWeeks>
  const held = mount({ setup: () => ((weeks = useWeeks()), () => null) })
  const plans = ['a', 'b', 'c'].map((name) => ({ name }) as Plan)
  for (let left = WISHES; left > 0; left -= 1) {
    const plan = plans[roll(plans.length)] as Plan
    const [day, settled] = [roll(2), left === 1 || roll(3) > 0]
    log.push(`wish ${plan.name}, day ${day}, ${settled ? 'settled' : 'held'}`)
    weeks.ask({ plan, pool: 'p', first: '2027-03-01', saved: false, day, settled })
    await vi.advanceTimersByTimeAsync([0, 10, 45, 130, 400][roll(5)] as number)
  }
  await vi.advanceTimersByTimeAsync(3000)
  const { fits, kept, busy, of, range } = weeks
  held.unmount()
  return { found: { fits, kept, busy, same: of?.plan.name === nameIn(range) }, log }
}
const nameIn = (answer: unknown) => (answer as { of: string } | null)?.of

it('show the newest wish with its lanes and its range, in whatever order answers come', async () => {
  for (let seed = 0; seed < RUNS; seed += 1) {
    const { found, log } = await quiet(seed)
    const wanted = { fits: true, kept: true, busy: false, same: true }
    expect(found, log.join('\n')).toEqual(wanted)
  }
}, 60_000)
