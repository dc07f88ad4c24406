/** The pages of this browser that show plans: which there are, and what they save. */

import { readKept, writeKept } from '@/stores/kept'

const KEY = 'idle-harbor.tab'
const LOCK = (id: string) => `${KEY}.${id}`

/** What a page tells the others: a plan has a newer revision. */
export interface Saved {
  plan: number
  number: number
}

/** Missing where the browser has none, or gives this page none. */
const locks: LockManager | null = (navigator as { locks?: LockManager | null }).locks ?? null

/** Hold a name for as long as the page lives; false where another page has it: a copied one. */
function claim(all: LockManager, id: string): Promise<boolean> {
  return new Promise((done) => {
    void all.request(LOCK(id), { ifAvailable: true }, (lock) => {
      done(lock !== null)
      return lock === null ? undefined : new Promise<never>(() => {})
    })
  })
}

async function named(): Promise<string> {
  const known = readKept(KEY, 'sessionStorage')
  // A browser without locks has one page, as far as one can tell.
  if (!locks) return known ?? crypto.randomUUID()
  if (known !== null && (await claim(locks, known))) return known
  const fresh = crypto.randomUUID()
  await claim(locks, fresh)
  return fresh
}

let found: Promise<string> | null = null

/** This page's name: the same when it is read anew, another in a copy of it. */
export function tabName(): Promise<string> {
  found ??= named().then((id) => {
    writeKept(KEY, id, 'sessionStorage')
    return id
  })
  return found
}

/** Names of the pages that live. */
export async function livingTabs(): Promise<Set<string>> {
  if (!locks) return new Set([await tabName()])
  const { held } = await locks.query()
  const names = (held ?? []).map((lock) => lock.name ?? '')
  return new Set(
    names.filter((name) => name.startsWith(`${KEY}.`)).map((n) => n.slice(KEY.length + 1)),
  )
}

const channel = 'BroadcastChannel' in globalThis ? new BroadcastChannel('idle-harbor.saved') : null

/** Tell the other pages that a plan was saved here. */
export function tellSaved(saved: Saved): void {
  channel?.postMessage(saved)
}

/** Hear of what other pages save; returns how to stop. */
export function hearSaved(hear: (saved: Saved) => void): () => void {
  const listen = (event: MessageEvent<Saved>) => hear(event.data)
  channel?.addEventListener('message', listen)
  return () => channel?.removeEventListener('message', listen)
}
