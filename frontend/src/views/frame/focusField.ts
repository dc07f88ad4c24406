/** How long a view may take until its fields are there, in milliseconds. */
const PATIENCE = 4_000

/** Put the cursor into the first field of a path, as soon as the view shows it. */
export function focusField(path: string, begun = performance.now()): void {
  const field = document.querySelector<HTMLElement>(`main [data-path="${path}"]`)
  if (field) {
    field.scrollIntoView({ block: 'center' })
    field.focus()
    if (field instanceof HTMLInputElement) field.select()
  } else if (performance.now() - begun < PATIENCE) {
    requestAnimationFrame(() => focusField(path, begun))
  }
}
