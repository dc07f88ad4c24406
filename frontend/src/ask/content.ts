/** What a value says as JSON, once for each value: plans are replaced and never changed in place. */
const texts = new WeakMap<object, string>()

export function textOf(value: object): string {
  let text = texts.get(value)
  if (text === undefined) {
    text = JSON.stringify(value)
    texts.set(value, text)
  }
  return text
}

const names = new WeakMap<object, number>()
let named = 0

/** A value's own number: another value has another, whatever both of them say. */
function nameOf(value: object): number {
  let name = names.get(value)
  if (name === undefined) {
    name = named += 1
    names.set(value, name)
  }
  return name
}

/**
 * A key of what is asked: equal keys have equal answers. A plan stands in it by which one it is,
 * since every edit makes a new one; to compare what they say would take longer than to ask.
 */
export function keyOf(...parts: (object | string | number | boolean | null)[]): string {
  return parts
    .map((part) => (typeof part === 'object' && part !== null ? `#${nameOf(part)}` : String(part)))
    .join(' ')
}
