import type { Plan } from '@/api/client'

/** An unsaved edit, kept in the browser so that neither a reload nor a lost server loses it. */
export interface Draft {
  base: number
  plan: Plan
}

const keyOf = (id: number) => `idle-harbor.draft.${id}`

export function keepDraft(id: number, draft: Draft | null): void {
  try {
    if (draft) localStorage.setItem(keyOf(id), JSON.stringify(draft))
    else localStorage.removeItem(keyOf(id))
  } catch {
    // Storage may be full or forbidden; the edit then lives as long as the page.
  }
}

export function readDraft(id: number): Draft | null {
  try {
    const text = localStorage.getItem(keyOf(id))
    return text ? (JSON.parse(text) as Draft) : null
  } catch {
    return null
  }
}

/** Whether two documents say the same, whatever the order of their fields. */
export function same(a: unknown, b: unknown): boolean {
  return sorted(a) === sorted(b)
}

function sorted(value: unknown): string {
  return JSON.stringify(value, (_, part) =>
    part && typeof part === 'object' && !Array.isArray(part)
      ? Object.fromEntries(Object.entries(part).sort(([x], [y]) => (x < y ? -1 : 1)))
      : part,
  )
}
