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
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || !a || !b) return false
  if (Array.isArray(a) || Array.isArray(b)) {
    if (!Array.isArray(a) || !Array.isArray(b) || a.length !== b.length) return false
    return a.every((each, k) => same(each, b[k]))
  }
  const [one, two] = [a as Record<string, unknown>, b as Record<string, unknown>]
  const names = Object.keys(one)
  if (names.length !== Object.keys(two).length) return false
  return names.every((name) => name in two && same(one[name], two[name]))
}
