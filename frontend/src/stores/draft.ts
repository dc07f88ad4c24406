import type { Plan } from '@/api/client'
import { textOf } from '@/ask/content'

/** An unsaved edit, kept in the browser so that neither a reload nor a lost server loses it. */
export interface Draft {
  base: number
  plan: Plan
}

const keyOf = (id: number) => `idle-harbor.draft.${id}`

/** Drafts that are yet to be written, by plan: writing one takes longer than a frame has. */
const unwritten = new Map<number, Draft | null>()
let writing: ReturnType<typeof setTimeout> | undefined
const WRITTEN_AFTER_MS = 400

/** Keep a draft, or none: written soon, and at the latest when the page is left. */
export function keepDraft(id: number, draft: Draft | null): void {
  unwritten.set(id, draft)
  clearTimeout(writing)
  writing = setTimeout(writeDrafts, WRITTEN_AFTER_MS)
}

function writeDrafts(): void {
  clearTimeout(writing)
  for (const [id, draft] of unwritten) write(id, draft)
  unwritten.clear()
}
addEventListener('pagehide', writeDrafts)
addEventListener('visibilitychange', writeDrafts)

function write(id: number, draft: Draft | null): void {
  try {
    if (draft) localStorage.setItem(keyOf(id), textOfDraft(draft))
    else localStorage.removeItem(keyOf(id))
  } catch {
    // Storage may be full or forbidden; the edit then lives as long as the page.
  }
}

const textOfDraft = (draft: Draft) => `{"base":${draft.base},"plan":${textOf(draft.plan)}}`

export function readDraft(id: number): Draft | null {
  writeDrafts()
  try {
    const text = localStorage.getItem(keyOf(id))
    return text ? (JSON.parse(text) as Draft) : null
  } catch {
    return null
  }
}

/** Whether two documents say the same, whatever the order of their fields. */
export function same(a: object, b: object): boolean {
  return a === b || textOf(a) === textOf(b) || sorted(a) === sorted(b)
}

/** What a value says with its fields in order, once for each value. */
const orders = new WeakMap<object, string>()

function sorted(value: object): string {
  let text = orders.get(value)
  if (text === undefined) {
    text = JSON.stringify(value, (_, part: unknown) =>
      part && typeof part === 'object' && !Array.isArray(part)
        ? Object.fromEntries(Object.entries(part).sort(([x], [y]) => (x < y ? -1 : 1)))
        : part,
    )
    orders.set(value, text)
  }
  return text
}
