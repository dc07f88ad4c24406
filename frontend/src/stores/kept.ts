/** What the browser keeps for the application: it may be full, forbidden or written by others. */

type Where = 'localStorage' | 'sessionStorage'

/** The text kept under a name, or null where there is none or the browser keeps nothing. */
export function readKept(name: string, where: Where = 'localStorage'): string | null {
  try {
    return window[where].getItem(name)
  } catch {
    return null
  }
}

/** Keep a text under a name, or nothing; returns whether the browser did. */
export function writeKept(
  name: string,
  text: string | null,
  where: Where = 'localStorage',
): boolean {
  try {
    if (text === null) window[where].removeItem(name)
    else window[where].setItem(name, text)
    return true
  } catch {
    return false
  }
}
