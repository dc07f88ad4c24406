import type { Plan } from '@/api/client'

import { textOf } from './content'
import type { Call } from './question'

/** A body with a plan in it as JSON; the plan's own text is made once for each plan. */
export function withPlan(body: object): string {
  const { plan, ...rest } = body as { plan: object }
  const others = JSON.stringify(rest)
  return `{"plan":${textOf(plan)}${others === '{}' ? '}' : `,${others.slice(1)}`}`
}

/** How a call is sent: its body with a plan in it, and given up with the signal. */
export function sent(call: Call) {
  return { signal: call.signal, bodySerializer: withPlan }
}

/** How a wish about a plan is sent: as the body, named, given up with the signal. */
export function about<W extends { plan: Plan }>(wish: W, call: Call) {
  return { body: { ...wish, plan: wish.plan as never, ...named(call) }, ...sent(call) }
}

/** What names a page and its edit to the server, which works on the newest alone. */
export function named(call: Call) {
  return { tab: call.tab, edit: call.edit }
}
