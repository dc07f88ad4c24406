/** The kinds of value that are typed into a sentence. */
export type Typed = 'number' | 'text' | 'clock' | 'money' | 'timeout' | 'date'

/** What a typed value has to be. */
export interface Rule {
  kind: Typed
  /** By how much the value of the plan is multiplied to be shown. */
  scale?: number
  /** Bounds of the value in the plan. */
  low?: number
  high?: number
  /** Whether only whole numbers stand there. */
  whole?: boolean
  /** How far an arrow key moves the value in the plan. */
  step?: number
  /** The first and the last date that may stand there. */
  earliest?: string
  latest?: string
  /** The names that are known, where only those may stand there. */
  allowed?: readonly string[]
}

/** A value for the plan, or why what was typed is none. */
export type Reading = { value: number | string } | { wrong: string }

const PLAIN = /^[+-]?(\d+(\.\d*)?|\.\d+)$/
const GROUPED = /^[+-]?[1-9]\d{0,2}([, ]\d{3})+(\.\d+)?$/
const GROUPS = /[, ]/g

/** Without what only makes it readable: other signs for minus and blank, and outer blanks. */
function plainly(text: string): string {
  return text
    .replaceAll('−', '-')
    .replaceAll(/[\u00a0\u2009\u202f]/g, ' ')
    .trim()
}

/** The digits of a typed number with a point and no groups; null where it is none. Commas group
 * thousands, as they do in every number on the page. */
export function digitsOf(text: string): string | null {
  const plain = plainly(text)
  if (PLAIN.test(plain)) return plain
  return GROUPED.test(plain) ? plain.replaceAll(GROUPS, '') : null
}

/** Rounded as far as a binary fraction is not what was typed. */
const tidy = (value: number) => Math.round(value * 1e9) / 1e9

/** A value of the plan as it is shown where it is edited. */
export function shownOf(value: number | string, rule: Rule): string {
  if (rule.kind !== 'number') return String(value)
  return String(Math.round(Number(value) * (rule.scale ?? 1) * 1e6) / 1e6)
}

const refusedNumber = (text: string, wanted: string) =>
  /^[+-]?\d+,\d+$/.test(plainly(text))
    ? `write decimals with a point: ${plainly(text).replace(',', '.')}`
    : wanted

function numberFor(text: string, rule: Rule): Reading {
  const digits = digitsOf(text)
  if (digits === null) return { wrong: refusedNumber(text, 'give a number') }
  const scale = rule.scale ?? 1
  const value = tidy(Number(digits) / scale)
  const { low = -Infinity, high = Infinity } = rule
  if (value < low || value > high) {
    const [least, most] = [tidy(low * scale), tidy(high * scale)]
    if (high === Infinity) return { wrong: `at least ${least}` }
    return { wrong: low === -Infinity ? `at most ${most}` : `from ${least} to ${most}` }
  }
  if (!rule.whole || Number.isInteger(value)) return { value }
  return scale === 1 ? { wrong: 'give a whole number' } : { value: Math.round(value) }
}

function clockFor(text: string): Reading {
  const fits = /^([01]?\d|2[0-3]):[0-5]\d$/.test(text)
  return fits ? { value: text.padStart(5, '0') } : { wrong: 'give a time such as 08:45' }
}

function moneyFor(text: string): Reading {
  const digits = digitsOf(text)
  if (digits !== null && /^\d+(\.\d{1,6})?$/.test(digits)) return { value: digits }
  return { wrong: refusedNumber(text, 'give an amount such as 0.412') }
}

function timeoutFor(text: string): Reading {
  if (text === 'never') return { value: text }
  const digits = digitsOf(text)
  if (digits !== null && /^\d+(\.\d+)?$/.test(digits)) return { value: digits }
  return { wrong: refusedNumber(text, 'give minutes, or never') }
}

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']

/** The parts of a date as typed: 2027-03-01, or with the month's name: 1 March 2027. */
function partsOf(text: string): [year: number, month: number, day: number] | null {
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(text)
  if (iso) return [Number(iso[1]), Number(iso[2]), Number(iso[3])]
  const named = /^(\d{1,2})\.? ([a-z]{3})[a-z]*\.?,? (\d{4})$/i.exec(text)
  const month = MONTHS.indexOf(named?.[2]?.toLowerCase() ?? '') + 1
  return named && month ? [Number(named[3]), month, Number(named[1])] : null
}

const isoOf = (date: Date) => date.toISOString().slice(0, 10)

function dateFor(text: string, { earliest = '', latest = '9999' }: Rule): Reading {
  const [year, month, day] = partsOf(text) ?? [0, 0, 0]
  const date = new Date(Date.UTC(year, month - 1, day))
  date.setUTCFullYear(year)
  if (!day || date.getUTCMonth() !== month - 1) return { wrong: 'give a date such as 2027-03-01' }
  const value = isoOf(date)
  return value < earliest || value > latest ? { wrong: `from ${earliest} to ${latest}` } : { value }
}

/** What was typed as a value for the plan, or why it is none. */
export function readingOf(typed: string, rule: Rule): Reading {
  const text = typed.trim()
  if (rule.kind === 'clock') return clockFor(text)
  if (rule.kind === 'money') return moneyFor(text)
  if (rule.kind === 'timeout') return timeoutFor(text)
  if (rule.kind === 'number') return numberFor(text, rule)
  if (rule.kind === 'date') return dateFor(text, rule)
  if (rule.allowed?.length && !rule.allowed.includes(text)) {
    return { wrong: 'choose a name that is known' }
  }
  return text ? { value: text } : { wrong: 'this cannot be empty' }
}

/** Whether arrow keys move a value of that kind. */
export const steps = ({ kind }: Rule) => kind === 'number' || kind === 'date'

/** A date some days later; a long step is a week. */
function daysOn(typed: string, rule: Rule, days: number): string {
  const reading = dateFor(typed, rule)
  if (!('value' in reading)) return typed
  const date = new Date(`${reading.value}T00:00:00Z`)
  date.setUTCDate(date.getUTCDate() + (Math.abs(days) > 1 ? 7 * Math.sign(days) : days))
  const next = isoOf(date)
  return 'value' in dateFor(next, rule) ? next : typed
}

/** What stands there after an arrow key: by so many steps, never past a bound. */
export function steppedOf(typed: string, rule: Rule, by: number): string {
  if (rule.kind === 'date') return daysOn(typed, rule, by)
  const digits = digitsOf(typed)
  if (rule.kind !== 'number' || digits === null) return typed
  const scale = rule.scale ?? 1
  // What is shown in a coarser unit moves by one of that unit.
  const step =
    rule.step === undefined ? 1 : scale < 1 ? Math.max(rule.step * scale, 1) : rule.step * scale
  const low = (rule.low ?? -Infinity) * scale
  const high = (rule.high ?? Infinity) * scale
  const next = Math.max(low, Math.min(Number(digits) + by * step, high))
  return String(Math.round(next * 1e6) / 1e6)
}
