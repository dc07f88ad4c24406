import type { Plan } from '@/api/client'
import { textOf } from '@/ask/content'
import { readKept, writeKept } from '@/stores/kept'

import { livingTabs, tabName } from './tabs'

/** An unsaved edit, kept in the browser so that neither a reload nor a lost server loses it. */
export interface Draft {
  base: number
  plan: Plan
}

const PREFIX = 'idle-harbor.draft.'
/** Each page has its own draft of a plan: what one undoes takes nothing from another. */
const keyOf = (plan: number, tab: string) => `${PREFIX}${plan}.${tab}`

/** Drafts that are yet to be written, by their keys: writing one takes longer than a frame has. */
const unwritten = new Map<string, Draft | null>()
let writing: ReturnType<typeof setTimeout> | undefined
const WRITTEN_AFTER_MS = 400

/** This page's name, once it is known. */
let mine = ''
void tabName().then((name) => (mine = name))

/** Keep a draft, or none: written soon, and at the latest when the page is left. */
export function keepDraft(plan: number, draft: Draft | null): void {
  unwritten.set(keyOf(plan, mine), draft)
  clearTimeout(writing)
  writing = setTimeout(writeDrafts, WRITTEN_AFTER_MS)
}

function writeDrafts(): void {
  clearTimeout(writing)
  for (const [key, draft] of unwritten) {
    // Where nothing is kept, the edit lives as long as the page.
    writeKept(key, draft && `{"base":${draft.base},"plan":${textOf(draft.plan)}}`)
  }
  unwritten.clear()
}
addEventListener('pagehide', writeDrafts)
addEventListener('visibilitychange', writeDrafts)

/** Names under which drafts of a plan are kept: this page's, then those of pages that are gone. */
async function keysOf(plan: number): Promise<string[]> {
  const own = keyOf(plan, await tabName())
  const living = await livingTabs()
  const others: string[] = []
  try {
    for (let k = 0; k < localStorage.length; k += 1) {
      const key = localStorage.key(k) ?? ''
      const isOne = key === `${PREFIX}${plan}` || key.startsWith(`${PREFIX}${plan}.`)
      if (isOne && key !== own && !living.has(key.slice(keyOf(plan, '').length))) others.push(key)
    }
  } catch {
    // A browser that keeps nothing.
  }
  return [own, ...others]
}

function parsed(text: string): Draft | 'broken' {
  try {
    const { base, plan } = (JSON.parse(text) ?? {}) as Partial<Draft>
    if (!Number.isInteger(base) || typeof plan !== 'object' || !plan) return 'broken'
    return { base: base as number, plan }
  } catch {
    return 'broken'
  }
}

/**
 * What is kept of an edit of a plan: a draft, nothing, or something that is no draft. One of a page
 * that is gone becomes this page's. Whether its plan can be read the server says.
 */
export async function readDraft(plan: number): Promise<Draft | null | 'broken'> {
  writeDrafts()
  for (const key of await keysOf(plan)) {
    const text = readKept(key)
    if (text === null) continue
    const own = keyOf(plan, mine)
    if (key !== own && writeKept(own, text)) writeKept(key, null)
    return parsed(text)
  }
  return null
}

/** Whether the browser keeps an edit that is not saved. */
export function keepsDrafts(): boolean {
  const name = 'idle-harbor.tried'
  return writeKept(name, '') && writeKept(name, null)
}
