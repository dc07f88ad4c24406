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

const hashes = new WeakMap<object, string>()

/** A hash of what a value says: 53 bits by two multiplications a character. */
export function hashOf(value: object): string {
  let hash = hashes.get(value)
  if (hash === undefined) {
    hash = hashOfText(textOf(value))
    hashes.set(value, hash)
  }
  return hash
}

function hashOfText(text: string): string {
  let low = 0xdeadbeef
  let high = 0x41c6ce57
  for (let k = 0; k < text.length; k += 1) {
    const code = text.charCodeAt(k)
    low = Math.imul(low ^ code, 2654435761)
    high = Math.imul(high ^ code, 1597334677)
  }
  low = Math.imul(low ^ (low >>> 16), 2246822507) ^ Math.imul(high ^ (high >>> 13), 3266489909)
  high = Math.imul(high ^ (high >>> 16), 2246822507) ^ Math.imul(low ^ (low >>> 13), 3266489909)
  return `${(high >>> 0).toString(36)}${(low >>> 0).toString(36)}-${text.length}`
}

/** A key of what is asked: equal keys have equal answers. */
export function keyOf(...parts: (object | string | number | boolean | null)[]): string {
  return parts
    .map((part) => (typeof part === 'object' && part !== null ? hashOf(part) : String(part)))
    .join(' ')
}
