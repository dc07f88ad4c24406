import type { Plan } from '@/api/client'

import { textOf } from './content'
import { inNames, withNames } from './names'
import { owner, page } from './page'
import type { Call } from './question'

interface AboutPlan {
  plan: object
}

/** A body with a plan in it as JSON: lists that the server knows by name stand there by it. */
export function withPlan<B extends AboutPlan>(body: B): string {
  const { plan, ...rest } = body
  const named = inNames(plan)
  const known = Object.keys(named.parts).length > 0
  const others = JSON.stringify(known ? { ...rest, parts: named.parts } : rest)
  return `{"plan":${textOf(known ? named.plan : plan)}${others === '{}' ? '}' : `,${others.slice(1)}`}`
}

/** A body as the server describes it: any plan, and names in place of some of its lists. */
type Sendable<B extends AboutPlan> = Omit<B, 'plan'> & {
  plan: Record<string, never>
  parts: Record<string, string>
}

/** How a body with a plan in it is sent. */
export function sent<B extends AboutPlan>(body: B, signal?: AbortSignal) {
  return {
    body: body as unknown as Sendable<B>,
    signal,
    bodySerializer: withPlan,
    fetch: (request: Request) =>
      withNames(body.plan, fetch(request), () => fetch(again(request, withPlan(body)))),
  }
}

/** A request with another body: its own has been read. */
function again({ url, method, headers, signal }: Request, body: string): Request {
  return new Request(url, { method, headers, signal, body })
}

/** How a wish about a plan is sent: as the body, named, given up with the signal. */
export function about<W extends { plan: Plan }>(wish: W, call: Call) {
  return sent({ ...wish, ...named(call) }, call.signal)
}

/** What names a page and its edit to the server, which works on the newest alone. */
export function named(call: Call) {
  return { tab: call.tab, edit: call.edit, owner, plan_id: page.plan }
}
