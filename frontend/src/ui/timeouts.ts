/** A timeout of the plan, in seconds or never, as people read and write it: minutes, or never. */
export type Timeout = number | 'never'

export const inMinutes = (value: Timeout) =>
  value === 'never' ? 'never' : String(Number(value) / 60)

export const inSeconds = (text: string): Timeout =>
  text === 'never' ? 'never' : Math.round(Number(text) * 60)
