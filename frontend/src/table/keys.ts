/** Cells that can be typed into or chosen from. */
const CELLS = 'input, select, button.link'

const STEPS: Partial<Record<string, [number, number]>> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
}

/** Whether the cursor of a text stands where an arrow would leave it. */
function leaves(from: HTMLElement, key: string): boolean {
  if (!(from instanceof HTMLInputElement)) return true
  const { selectionStart: first, selectionEnd: last, value } = from
  if (key === 'ArrowUp' || key === 'ArrowDown' || (first === 0 && last === value.length)) return true
  return key === 'ArrowLeft' ? last === 0 : first === value.length
}

/**
 * Go from one cell of a table to the next by an arrow key. With Alt held the key is the cell's own,
 * as it is inside a text.
 */
export function moved(event: KeyboardEvent): void {
  const step = STEPS[event.key]
  const from = event.target as HTMLElement
  const at = from.closest('td')
  const line = at?.closest('tr')
  if (!step || event.altKey || !at || !line || !leaves(from, event.key)) return
  const rows = [...(line.parentElement?.querySelectorAll<HTMLElement>('tr') ?? [])].filter(
    (row) => row.querySelector('td:not(.opened)'),
  )
  const column = [...line.children].indexOf(at) + step[1]
  const target = rows[rows.indexOf(line) + step[0]]?.children[column]
  const next = target?.querySelector<HTMLElement>(CELLS)
  if (!next) return
  event.preventDefault()
  event.stopPropagation()
  next.focus()
  if (next instanceof HTMLInputElement) next.select()
}
