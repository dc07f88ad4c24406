/** This page as the server knows it. */

import { readKept, writeKept } from '@/stores/kept'

const KEY = 'idle-harbor-page'

function known(): string {
  const found = readKept(KEY, 'sessionStorage') ?? crypto.randomUUID()
  writeKept(KEY, found, 'sessionStorage')
  return found
}

/** For whom long work is done: the same when the page is read anew. */
export const owner = known()

/** The plan that the page is about: what long work about it leads back to. */
export const page: { plan: number | null } = { plan: null }
