/**
 * Names of lists that the server has read: it knows a list by its name from then on, and an edit
 * leaves most lists of a plan as they are.
 */
const names = new WeakMap<object, string>()

/** The header in which an answer names the lists that were sent. */
const HEADER = 'Plan-Parts'

const isPart = (value: unknown): value is object => typeof value === 'object' && value !== null

/** The plan without the lists that have a name, and their names. */
export function inNames(plan: object): { plan: object; parts: Record<string, string> } {
  const left: Record<string, unknown> = {}
  const parts: Record<string, string> = {}
  for (const [field, part] of Object.entries(plan) as [string, unknown][]) {
    const name = isPart(part) ? names.get(part) : undefined
    if (name === undefined) left[field] = part
    else parts[field] = name
  }
  return { plan: left, parts }
}

/** Take the names that an answer gives to the lists of the plan it is about. */
function learn(plan: object, answer: Response): void {
  const told = answer.headers.get(HEADER)
  if (!told) return
  for (const [field, name] of Object.entries(JSON.parse(told) as Record<string, string>)) {
    const part = (plan as Record<string, unknown>)[field]
    if (isPart(part)) names.set(part, name)
  }
}

function forget(plan: object): void {
  for (const part of Object.values(plan) as unknown[]) if (isPart(part)) names.delete(part)
}

/** Whether a server says that it does not know such names: it began anew, or had no more room. */
async function knowsNoMore(answer: Response): Promise<boolean> {
  if (answer.status !== 422) return false
  const problem = (await answer
    .clone()
    .json()
    .catch(() => null)) as { type?: string } | null
  return problem?.type === '/problems/unknown-parts'
}

/** The answer to what was sent about a plan; where names in it are not known, it is sent whole. */
export async function withNames(
  plan: object,
  sent: Promise<Response>,
  again: () => Promise<Response>,
): Promise<Response> {
  let answer = await sent
  if (await knowsNoMore(answer)) {
    forget(plan)
    answer = await again()
  }
  learn(plan, answer)
  return answer
}
