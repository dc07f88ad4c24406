/** What a value says as JSON, once for each value: plans are replaced and never changed in place. */
const texts = new WeakMap<object, string>()

function textOnce(value: object, make: () => string): string {
  let text = texts.get(value)
  if (text === undefined) {
    text = make()
    texts.set(value, text)
  }
  return text
}

/** Of an object part by part: an edit makes a new plan, and leaves most of its parts as they are. */
export function textOf(value: object): string {
  if (Array.isArray(value)) return textOnce(value, () => JSON.stringify(value))
  return textOnce(value, () => {
    const parts: string[] = []
    for (const [name, part] of Object.entries(value) as [string, unknown][]) {
      const text =
        typeof part === 'object' && part !== null
          ? textOnce(part, () => JSON.stringify(part))
          : (JSON.stringify(part) as string | undefined)
      if (text !== undefined) parts.push(`${JSON.stringify(name)}:${text}`)
    }
    return `{${parts.join(',')}}`
  })
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
