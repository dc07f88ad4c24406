/** This page as the server knows it. */

const KEY = 'idle-harbor-page'

function known(): string {
  try {
    const found = sessionStorage.getItem(KEY) ?? crypto.randomUUID()
    sessionStorage.setItem(KEY, found)
    return found
  } catch {
    return crypto.randomUUID()
  }
}

/** For whom long work is done: the same when the page is read anew. */
export const owner = known()

/** The plan that the page is about: what long work about it leads back to. */
export const page: { plan: number | null } = { plan: null }
