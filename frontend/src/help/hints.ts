import { shallowRef } from 'vue'

import { api, type Hint } from '@/api/client'
import { told } from '@/ask/told'
import type { Rule } from '@/ui/typing'

const table = shallowRef<Record<string, Hint>>({})
const choices = shallowRef<Record<string, Record<string, string>>>({})
/** Names of the time zones known to the server. */
export const zones = shallowRef<string[]>([])
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
  table.value = Object.fromEntries(answer.data.fields.map((hint) => [hint.path, hint]))
  choices.value = answer.data.choices
  zones.value = answer.data.zones
  days.value = { earliest: answer.data.earliest, latest: answer.data.latest }
}

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

/** What is declared of a field's numbers: bounds, whether whole, and the step of an arrow key. */
export function numbersOf(path: string): Pick<Rule, 'low' | 'high' | 'whole' | 'step'> {
  const hint = table.value[path]
  return {
    low: hint?.low ?? undefined,
    high: hint?.high ?? undefined,
    whole: hint?.whole ?? undefined,
    step: hint?.step ?? undefined,
  }
}
