import type { Interval } from '@/api/client'

const locale = 'en-IE'
const numbers = new Map<string, Intl.NumberFormat>()

function formatter(options: Intl.NumberFormatOptions): Intl.NumberFormat {
  const key = JSON.stringify(options)
  const found = numbers.get(key) ?? new Intl.NumberFormat(locale, options)
  numbers.set(key, found)
  return found
}

export function count(value: number, digits = 0): string {
  return formatter({ maximumFractionDigits: digits, minimumFractionDigits: digits }).format(value)
}

export function money(value: number | string, currency: string, digits = 0): string {
  return formatter({
    style: 'currency',
    currency,
    maximumFractionDigits: digits,
    minimumFractionDigits: digits,
  }).format(Number(value))
}

/** The sign of a currency as it stands before a sum. */
export function currencySign(currency: string): string {
  const parts = formatter({ style: 'currency', currency }).formatToParts(0)
  return parts.find((part) => part.type === 'currency')?.value ?? currency
}

/** A share as per cent, with more digits where it is small. */
export function share(value: number): string {
  const digits = value !== 0 && Math.abs(value) < 0.01 ? 2 : 1
  return `${count(value * 100, digits)} %`
}

/** Seconds as a person would say them. */
export function duration(seconds: number): string {
  const sign = seconds < 0 ? '−' : ''
  const exact = Math.abs(seconds)
  if (exact < 99.5) return `${sign}${count(exact, exact < 9.95 && exact % 1 ? 1 : 0)} s`
  const whole = Math.round(exact)
  const minutes = Math.floor(whole / 60)
  const rest = whole % 60
  if (minutes < 60) return `${sign}${minutes} min ${String(rest).padStart(2, '0')} s`
  return `${sign}${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, '0')} min`
}

/** The mean of a figure in words; what is not known is not told as nothing. */
export function meanOf(figure: Interval, say: (value: number) => string, none = '–'): string {
  if (figure.unbounded) return 'no bound'
  return figure.mean === null ? none : say(figure.mean)
}

/** The half width of an interval, or nothing for one week alone. */
export function halfOf(interval: Interval): number | null {
  if (interval.mean === null || interval.high === null) return null
  return interval.high - interval.mean
}

const clocks = new Map<string, Intl.DateTimeFormat>()

/** The local clock of a zone at an instant (seconds since the epoch), as HH:MM. */
export function clock(instant: number, zone: string): string {
  const found =
    clocks.get(zone) ??
    new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: '2-digit', minute: '2-digit' })
  clocks.set(zone, found)
  return found.format(instant * 1000)
}

/** The day of the week of an instant, such as Sat. */
export const weekdayAt = (instant: number, zone: string): string =>
  new Intl.DateTimeFormat('en-GB', { timeZone: zone, weekday: 'short' }).format(instant * 1000)

export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const
export const WEEKDAY_IDS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'] as const

/** Which weekday (0 = Monday) a date such as 2027-03-01 is. */
export function weekdayOf(date: string): number {
  return (new Date(`${date}T00:00:00Z`).getUTCDay() + 6) % 7
}

/** A date with its weekday, such as "Mon 1 March". */
export function fullDayName(date: string): string {
  return `${WEEKDAYS[weekdayOf(date)] ?? ''} ${dayName(date)}`
}

const dates = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', timeZone: 'UTC' })

/** A date such as 2027-03-01 as "1 March". */
export function dayName(date: string): string {
  return dates.format(new Date(`${date}T00:00:00Z`))
}

const moments = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

/** When something happened, by the reader's clock, such as "2 Dec 2026, 04:48". */
export function moment(text: string): string {
  return moments.format(new Date(text))
}

/** A number of things with their noun, such as "1 pool" or "3 pools". */
export function counted(many: number, noun: string, more = `${noun}s`): string {
  return `${count(many)} ${many === 1 ? noun : more}`
}

/** An id as words: rest-day becomes "Rest day". */
export function words(id: string): string {
  const text = id.replaceAll('-', ' ')
  return text.charAt(0).toUpperCase() + text.slice(1)
}
