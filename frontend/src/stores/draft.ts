import type { Plan } from '@/api/client'
import { textOf } from '@/ask/content'

import { readKept, writeKept } from './kept'

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
  for (const [id, draft] of unwritten) {
    // Where nothing is kept, the edit lives as long as the page.
    writeKept(keyOf(id), draft && textOfDraft(draft))
  }
  unwritten.clear()
}
addEventListener('pagehide', writeDrafts)
addEventListener('visibilitychange', writeDrafts)

const textOfDraft = (draft: Draft) => `{"base":${draft.base},"plan":${textOf(draft.plan)}}`

/** What is kept of an edit: a draft, nothing, or something that is no draft. Whether its plan can be read the server
 * says. */
export function readDraft(id: number): Draft | null | 'broken' {
  writeDrafts()
  const text = readKept(keyOf(id))
  if (text === null) return null
  try {
    const found = JSON.parse(text) as Partial<Draft> | null
    const { base, plan } = found ?? {}
    if (!Number.isInteger(base) || typeof plan !== 'object' || !plan) return 'broken'
    return { base: base as number, plan }
  } catch {
    return 'broken'
  }
}

/** Whether the browser keeps an edit that is not saved. */
export function keepsDrafts(): boolean {
  const name = 'idle-harbor.tried'
  return writeKept(name, '') && writeKept(name, null)
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
