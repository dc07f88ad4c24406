import { shallowRef } from 'vue'

import { api, type Hint } from '@/api/client'
import { told } from '@/ask/told'
import BOUNDS from '@/api/bounds.json'
import type { Rule } from '@/ui/typing'

/** One of the words that a field may have. */
export interface Choice {
  value: string
  text: string
}

const table = shallowRef<Record<string, Hint>>({})
const choices = shallowRef<Record<string, Record<string, string>>>({})
/** The first and the last day that a plan may hold. */
export const days = shallowRef<{ earliest?: string; latest?: string }>({})
let asked = false

/** Fetch the field table once; where it does not come it is fetched with the next page. */
export async function loadHints(): Promise<void> {
  if (asked) return
  asked = true
  const answer = await told(api.GET('/api/hints'))
  if (!answer.data) {
    asked = false
    return
  }
  takeHints(answer.data.fields)
  choices.value = answer.data.choices
  days.value = { earliest: answer.data.earliest, latest: answer.data.latest }
}

/** What is declared of the fields, in place of what was known of them. */
export function takeHints(fields: readonly Hint[]): void {
  table.value = Object.fromEntries(fields.map((hint) => [hint.path, hint]))
}

/** The fields whose paths begin like that, with what each means. */
export const fieldsBelow = (begin: string): Hint[] =>
  Object.values(table.value).filter((hint) => hint.path.startsWith(begin))

/** What a field means, with its unit and bounds. */
export function hintOf(path: string): string {
  const hint = table.value[path]
  if (hint) {
    const bounds =
      hint.low !== null && hint.high !== null ? ` From ${hint.low} to ${hint.high}` : ''
    return `${hint.meaning}${bounds}${bounds && hint.unit ? ` ${hint.unit}` : ''}${bounds ? '.' : ''}`
  }
  const meanings = choices.value[path]
  if (meanings) {
    return Object.entries(meanings)
      .map(([name, meaning]) => `${name}: ${meaning}`)
      .join('; ')
  }
  return ''
}

export type Numbers = Pick<Rule, 'low' | 'high' | 'whole' | 'step'>

const bodies: Partial<Record<string, Numbers>> = BOUNDS

/** What is declared of a field's numbers: bounds, whether whole, and the step of an arrow key.
 *
 * A path leads to a field of the plan, or to one of a question's body, such as DrillBody.minutes. */
export function numbersOf(path: string): Numbers {
  const hint = table.value[path]
  if (!hint && bodies[path]) return bodies[path]
  return {
    low: hint?.low ?? undefined,
    high: hint?.high ?? undefined,
    whole: hint?.whole ?? undefined,
    step: hint?.step ?? undefined,
  }
}

/** The words that a field may have, each with what the page calls it, in the order declared. */
export function choicesOf(path: string, called: Record<string, string> = {}): Choice[] {
  return (table.value[path]?.choices ?? []).map((value) => ({
    value,
    text: called[value] ?? value,
  }))
}
